"""What is said of a result, row by row: on the readout and on the sheet."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

from kesselton.app.prediction.predictor import BenchResult
from kesselton.core.cautions import RODS_UNDER_LOAD
from kesselton.core.language import N_, _, figures
from kesselton.core.pitch import interval_name, note_of
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    from kesselton.app.bench.measuring import Planned
    from kesselton.core.instrument.drum import Drum
    from kesselton.core.measure.plan import Need
    from kesselton.core.prediction.usable import Limit
    from kesselton.core.prediction.wires import WiresView

WIRES_VERDICTS = {
    "loose": N_("loose, they keep rattling"),
    "right": N_("good for soft strokes"),
    "dull": N_("dull, heads barely move them"),
    "choked": N_("choked, strainer too tight"),
}

OUTSIDE = 1.001  # a hair beyond a limit is still at the limit


LUG_PITCH = N_("Lug pitch")


def interval_words(drum: Drum, cents: float) -> str:
    """The interval between the heads: "a fourth, snare side higher"."""
    name = interval_name(cents)
    if abs(cents) < 50:
        return name
    higher = wording.side_inside(drum, "resonant" if cents > 0 else "batter")
    return _("{name}, {higher} higher").format(name=name, higher=higher)


@dataclass(frozen=True)
class Row:
    """One line of a table: caption and a value per head; `key` says what it is."""

    caption: str
    values: tuple[str, ...]
    key: str = ""


def summary_rows(
    result: BenchResult, a4_hz: float, flats: bool, plan: Planned | None = None
) -> list[Row]:
    """What to set, per head (also on the sheet)."""
    prediction, drum = result.prediction, result.drum
    rows = [
        Row(
            _(LUG_PITCH),
            tuple(wording.note_words(hz, a4_hz, flats) for hz in prediction.lug_pitches_hz),
            "pitch",
        ),
        Row("", tuple(wording.hz_words(hz) for hz in prediction.lug_pitches_hz), "hz"),
        Row(
            _("Tension"),
            tuple(f"{figures(t, '.0f')} N/m" for t in prediction.tensions_n_per_m),
            "tension",
        ),
    ]
    yields = [drum.setting(side).head.substance.yield_pa.value for side in drum.sides]
    shares = [100.0 * s / y for s, y in zip(prediction.stresses_pa, yields, strict=True)]
    rows.append(
        Row(
            _("Film stress"),
            tuple(_("{s:.1f} MPa").format(s=s / 1e6) for s in prediction.stresses_pa),
        )
    )
    rows.append(Row(_("Share of yield"), tuple(f"{figures(share, '.0f')} %" for share in shares)))
    if plan is not None:
        rows[2:2] = gauge_rows(plan, drum)
    return rows


def gauge_rows(plan: Planned, drum: Drum) -> list[Row]:
    """What dial, turns and torque must read."""
    heads = plan.heads
    rows = []
    if any(math.isfinite(plan.dial.value) for plan in heads):
        rows.append(Row(_("Gauge"), tuple(_dial_words(p.dial) for p in heads), "gauge"))
    if drum.kind == "rope":
        rows.append(
            Row(
                _("Pull per ear"),
                tuple(f"{figures(p.rod_force_n, '.0f')} N" for p in heads),
                "pull",
            )
        )
        rows.append(
            Row(_("Rope tension"), tuple(f"{figures(p.rope_n, '.0f')} N" for p in heads), "rope")
        )
        return rows
    rows.append(
        Row(
            _("Turns"),
            tuple(
                f"{wording.turn_words(p.turns.value)} ± {wording.turn_words(p.turns.half)}"
                for p in heads
            ),
            "turns",
        )
    )
    torque = tuple(
        f"{figures(p.torque.value, '.2f')} ± {figures(p.torque.half, '.1f')} N\u00a0m"
        for p in heads
    )
    rows.append(Row(_("Torque"), torque, "torque"))
    return rows


def _dial_words(need: Need) -> str:
    """What a gauge must read; no gauge reads less than nothing."""
    if not math.isfinite(need.value):
        return "–"
    if need.value < 0.0:
        return _("below scale")
    doubt = " ?" if need.mind else ""
    return f"{figures(need.value, '.0f')} ± {figures(need.half, '.0f')}{doubt}"


def drift_rows(plan: Planned, drum: Drum) -> list[list[str]]:
    """What becomes of the setting, in words."""
    out = []
    for drift in plan.drifts:
        both = zip(drift.lug_cents, drift.lug_half_cents, strict=True)
        results = [drift_words(cents, half) for cents, half in both]
        names = [wording.side_inside(drum, side) for side in drum.sides]
        ends = [_ends(*pair) for pair in zip(drift.lug_cents, drift.lug_half_cents, strict=True)]
        if all(ends):
            heads = ", ".join(
                _("{head} {low} to {high} cents").format(head=name, low=low, high=high)
                for name, (low, high) in zip(names, filter(None, ends), strict=True)
            )
            text = _("may go either way: {heads}").format(heads=heads)
        elif len(results) == 2 and results[0] == results[1]:
            text = _("both heads {cents}").format(cents=results[0])
        else:
            text = ", ".join(
                _("{head} {cents}").format(head=name, cents=cents)
                for name, cents in zip(names, results, strict=True)
            )
        out.append([drift.label, text])
    return out


def drift_words(cents: float, half: float) -> str:
    """A change of pitch with its interval; where its sign is not known, from where to where."""
    ends = _ends(cents, half)
    if ends is None:
        return _("{cents} ± {half:.0f}").format(cents=wording.cents_words(cents), half=half)
    return _("either way, {low} to {high} cents").format(low=ends[0], high=ends[1])


def _ends(cents: float, half: float) -> tuple[str, str] | None:
    """From where to where a change may go; None where its sign is known."""
    if abs(cents) >= half:
        return None
    low, high = (figures(round(v), "+d") for v in (cents - half, cents + half))
    return low, high


def range_rows(result: BenchResult, a4_hz: float, flats: bool) -> list[Row]:
    """Usable range, per head."""
    low = tuple(
        f"{note_of(r.lowest_pitch_hz, a4_hz).name(flats)}, {r.lowest.label}" for r in result.ranges
    )
    high = tuple(
        f"{note_of(r.highest_pitch_hz, a4_hz).name(flats)}, {r.highest.label}"
        for r in result.ranges
    )
    return [Row(_("Highest"), high), Row(_("Lowest"), low)]


def _at_a_price(name: str, limit: Limit) -> str:
    return _("{name} past “{label}”: {why}.").format(name=name, label=limit.label, why=limit.reason)


def caution_words(result: BenchResult) -> str:
    """What to mind when a head is set outside its usable range; "" inside."""
    lines = []
    now = result.prediction
    for side, hz, tension, head_range in zip(
        result.drum.sides, now.lug_pitches_hz, now.tensions_n_per_m, result.ranges, strict=True
    ):
        name = wording.side_word(result.drum, side)
        if hz > head_range.highest_pitch_hz * OUTSIDE:
            lines.append(
                _("{name} above its usable range ({label}). {caution}").format(
                    name=name, label=head_range.highest.label, caution=_(RODS_UNDER_LOAD)
                )
            )
        elif hz * OUTSIDE < head_range.lowest_pitch_hz:
            lines.append(
                _("{name} below its usable range ({label}): no clear tone.").format(
                    name=name, label=head_range.lowest.label
                )
            )
        elif tension * OUTSIDE < head_range.clear_from.tension_n_per_m:
            lines.append(_at_a_price(name, head_range.clear_from))
        elif tension > head_range.keeps_to.tension_n_per_m * OUTSIDE:
            lines.append(_at_a_price(name, head_range.keeps_to))
    return "\n".join(lines)


def wires_rows(wires_view: WiresView | None) -> list[list[str]]:
    """Both states of snare wires: from which stroke on they answer, and the head they load."""
    if wires_view is None:
        return []
    if wires_view.response is None:
        return [[_("Wire response"), _("not computed: {why}").format(why=wires_view.why_not)]]
    item = wires_view.response
    value = _("from {share:.1f} % of a medium stroke: {verdict}").format(
        share=100.0 * item.from_touch, verdict=_(WIRES_VERDICTS[item.verdict])
    )
    if item.leaves_m_per_s2 <= 0.0:
        value = _("they hang clear of the head")
    if not wires_view.engaged:
        value = _("off; on: {value}").format(value=value)
    on, off = (
        ", ".join(figures(hz, ".0f") for hz in some)
        for some in (wires_view.lying_hz, wires_view.off_hz)
    )
    lying = _("{lines} Hz; off: {bare} Hz").format(lines=on, bare=off)
    return [[_("Wire response"), value], [_("With wires on"), lying]]
