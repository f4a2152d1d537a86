"""The tuning sheet: one page to lie beside the drum."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter

from kesselton.app.prediction.predictor import BenchResult
from kesselton.core.cautions import RODS_UNDER_LOAD
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.library import shell_band
from kesselton.core.instrument.shell import HOOPS
from kesselton.core.language import N_, _, each
from kesselton.core.measure.plan import bed_pattern, rounds
from kesselton.core.pitch import cents_between, note_of
from kesselton.ui.parts.pictures.section_picture import paint_section
from kesselton.ui.parts.widgets.theme import LIGHT, on_paper
from kesselton.ui.parts.words import wording
from kesselton.ui.parts.words.result_rows import (
    LUG_PITCH,
    drift_rows,
    interval_words,
    range_rows,
    summary_rows,
)
from kesselton.ui.printing.paper import BOLD, HEIGHT, RESOLUTION, RIGHT, SOFT, WIDTH, Pen, a4_pages

if TYPE_CHECKING:
    from PySide6.QtPrintSupport import QPrinter

    from kesselton.app.bench.measuring import Planned

ROUND, MIN_TURN = 0.25, 1.0 / 16.0
MIN_BED_RODS = 6
LABELS, COLUMN = 150.0, 270.0
PARTIAL_AT = (0, 150, 270, 390, 500, 610)


@dataclass(frozen=True, eq=False)
class Sheet:
    """What a tuning sheet shows, and how."""

    result: BenchResult
    workshop: str
    a4_hz: float
    flats: bool
    metric: bool
    on: date
    plan: Planned | None = None


@on_paper()
def paint_sheet(p: QPainter, sheet: Sheet) -> None:
    """Paint the sheet on a page of WIDTH x HEIGHT."""
    pen = Pen(p)
    _paint_title(pen, sheet)
    _paint_prediction(pen, sheet)
    y = _paint_targets(pen, sheet, 306.0)
    y = _paint_ranges(pen, sheet, y)
    for line in advice_lines(sheet):
        y += pen.paragraph(y, line) + 2
    _paint_partials(pen, sheet, y + 6)
    pen.rule(HEIGHT - 52)
    pen.paragraph(
        HEIGHT - 44,
        _(
            "{RODS_UNDER_LOAD} Every room differs: use this sheet as a "
            "starting point. ± is 90 %, from assumed tolerances."
        ).format(RODS_UNDER_LOAD=_(RODS_UNDER_LOAD)),
        height=44,
    )


def _paint_title(pen: Pen, sheet: Sheet) -> None:
    drum, shell = sheet.result.drum, sheet.result.drum.shell
    pen.text(0, 0, drum.name, 24, BOLD, width=480)
    pen.text(0, 8, sheet.workshop, 10, colour=SOFT, flag=RIGHT)
    pen.text(0, 24, sheet.on.isoformat(), 10, colour=SOFT, flag=RIGHT)
    pen.text(
        0,
        44,
        _("{size} · {rods} · {label} hoops · {temperature_c:g} °C · A4 = {a4_hz:g} Hz").format(
            size=wording.size_words(drum, sheet.metric),
            rods=drum.rod_count,
            label=HOOPS[shell.hoop].label,
            temperature_c=drum.air.temperature_c,
            a4_hz=sheet.a4_hz,
        ),
        10,
        colour=SOFT,
    )
    pen.rule(70)


def _paint_prediction(pen: Pen, sheet: Sheet) -> None:
    """The drum in section, and what it will sound."""
    drum, prediction = sheet.result.drum, sheet.result.prediction
    shell = drum.shell
    scale = min(200 / shell.head_diameter_m, 150 / max(shell.depth_m, 0.05))
    paint_section(pen.painter, QRectF(0, 84, 270, 200), drum, LIGHT, scale)
    note, index = note_of(prediction.fundamental_hz, sheet.a4_hz), prediction.partials.fundamental
    hz, doubt = wording.hz_words(prediction.fundamental_hz), prediction.uncertainty_cents[index]
    decay = wording.decay_words(
        float(prediction.partials.t60_s[index]), float(prediction.t60_error[index])
    )
    pen.text(310, 88, _("Drum pitch"), 10, colour=SOFT)
    pen.text(310, 104, note.name(sheet.flats), 44, BOLD, width=200)
    pen.text(
        310,
        184,
        _("{deviation}, {hz} ± {doubt:.0f} cents").format(
            deviation=note.deviation(), hz=hz, doubt=doubt
        ),
        11,
    )
    pen.text(310, 206, _("decay {decay} to −60 dB").format(decay=decay), 11)
    if len(drum.sides) == 2:
        interval = interval_words(drum, cents_between(*prediction.lug_pitches_hz))
        pen.text(310, 228, _("Interval between heads: {interval}").format(interval=interval), 11)


def _paint_targets(pen: Pen, sheet: Sheet, y: float) -> float:
    """What to set, per head; returns where it ends."""
    drum = sheet.result.drum
    pen.rule(y - 8)
    for place, side in enumerate(drum.sides):
        x = LABELS + place * COLUMN
        pen.text(x, y, wording.side_word(drum, side), 13, BOLD, width=COLUMN)
        pen.text(x, y + 24, drum.setting(side).head.name, 10, colour=SOFT, width=COLUMN)
    y += 56
    for row in summary_rows(sheet.result, sheet.a4_hz, sheet.flats, sheet.plan):
        large = row.caption == LUG_PITCH
        pen.text(0, y + (14 if large else 0), row.caption, 10, colour=SOFT, width=LABELS)
        for place, value in enumerate(row.values):
            pen.text(LABELS + place * COLUMN, y, value, 26 if large else 12, BOLD, width=COLUMN)
        y += 50 if large else 27
    pen.text(
        0,
        y,
        _("Lug pitch: tap 25 mm (1 in) from the edge at each rod, other head muted."),
        9,
        colour=SOFT,
    )
    return y + 24


def _paint_ranges(pen: Pen, sheet: Sheet, y: float) -> float:
    """How far each head can go; returns where it ends."""
    pen.rule(y)
    y += 10
    for row in range_rows(sheet.result, sheet.a4_hz, sheet.flats):
        pen.text(
            0, y, _("{caption} pitch").format(caption=row.caption), 10, colour=SOFT, width=LABELS
        )
        for place, value in enumerate(row.values):
            pen.text(LABELS + place * COLUMN, y, value, 11, width=COLUMN)
        y += 22
    return y


def _paint_partials(pen: Pen, sheet: Sheet, y: float) -> None:
    """As many partials as the page has room for."""
    drum, prediction = sheet.result.drum, sheet.result.prediction
    pen.rule(y)
    y += 8
    for x, head in zip(PARTIAL_AT, each(_PARTIAL_COLUMNS), strict=True):
        pen.text(x, y, head, 9, colour=SOFT, width=150)
    y += 18
    names = (wording.side_inside(drum, "batter"), wording.side_inside(drum, "resonant"))
    fits = int((HEIGHT - 58 - y) / 19)
    q = prediction.partials
    for i in range(min(10, fits, len(q))):
        cells = (
            _partial_name(int(q.order[i]), int(q.rank[i]), str(q.branch[i])),
            wording.hz_words(float(q.frequency_hz[i])),
            wording.note_words(float(q.frequency_hz[i]), sheet.a4_hz, sheet.flats),
            wording.seconds_words(float(q.t60_s[i])),
            _("{levels_db:.0f} dB").format(levels_db=prediction.levels_db[i]),
            _carrier(float(q.batter_share[i]), str(q.branch[i]), names),
        )
        for x, cell in zip(PARTIAL_AT, cells, strict=True):
            pen.text(x, y, cell, 10, width=150)
        y += 19


def advice_lines(sheet: Sheet) -> list[str]:
    """Every limit with its doubt, rounds of turns, the school of lower rods beside snare beds."""
    return [
        *_limit_lines(sheet),
        *_turn_lines(sheet),
        *_bed_lines(sheet),
        *_shell_lines(sheet),
        *_stage_lines(sheet),
    ]


def _limit_lines(sheet: Sheet) -> list[str]:
    lines = []
    for head_range in sheet.result.ranges:
        name = wording.side_word(sheet.result.drum, head_range.side)
        parts = [
            _("{label} {tension:.0f} ± {share:.0f} %").format(
                label=limit.label, tension=limit.tension_n_per_m, share=100 * limit.sure
            )
            for limit in (*head_range.lower, *head_range.upper)
        ]
        lines.append(_("{name}, limits in N/m: {join}.").format(name=name, join="; ".join(parts)))
    return lines


def _turn_lines(sheet: Sheet) -> list[str]:
    drum = sheet.result.drum
    if sheet.plan is None or drum.kind == "rope":
        return []
    heads = []
    for plan in sheet.plan.heads:
        steps = rounds(plan.turns.value, ROUND)
        whole = sum(1 for step in steps if abs(step - ROUND) < 1e-9)
        left = steps[-1] if len(steps) > whole else 0.0
        side = wording.side_inside(drum, plan.side)
        if left >= MIN_TURN:
            rest = wording.turn_words(left)
            heads.append(
                _("{head} {count} × ¼ and {rest}").format(head=side, count=whole, rest=rest)
            )
        else:
            heads.append(_("{head} {count} × ¼").format(head=side, count=whole))
    return [
        _(
            "From finger-tight, turn every rod equally: {heads}; check "
            "after each round. New heads keep stretching: check again "
            "after a day."
        ).format(heads=", ".join(heads))
    ]


def _bed_lines(sheet: Sheet) -> list[str]:
    drum = sheet.result.drum
    if drum.kind != "snare" or drum.resonant is None or drum.shell.rods < MIN_BED_RODS:
        return []
    pattern = bed_pattern(drum.shell.rods, drum.shell.beds_at)
    low = ", ".join(str(i + 1) for i, share in enumerate(pattern) if share < 1.0)
    down = abs(0.5 * cents_between(1.0, min(pattern)))
    up = 0.5 * cents_between(1.0, max(pattern))
    return [
        _(
            "Snare side: some technicians set rods {low}, beside the beds, "
            "{down:.0f} cents lower and the other rods {up:.0f} cents "
            "higher; others set all rods even."
        ).format(low=low, down=down, up=up)
    ]


def _stage_lines(sheet: Sheet) -> list[str]:
    """The glide of a stroke, what becomes of the pitch on stage, and what was assumed."""
    prediction, drum = sheet.result.prediction, sheet.result.drum
    index = prediction.partials.fundamental
    first, early = float(prediction.glide_cents[index]), float(prediction.early_glide_cents[index])
    lines = []
    if first >= 1.0:
        lines.append(
            _("This stroke starts {first:.0f} cents sharp ({early:.0f} after 50 ms).").format(
                first=first, early=early
            )
        )
    if sheet.plan is not None:
        changes = "; ".join(": ".join(row) for row in drift_rows(sheet.plan, drum))
        lines.append(_("Changes on stage and with time: {changes}.").format(changes=changes))
    assumed = wording.assumed_words(drum)
    if assumed:
        lines.append(_("Assumed: {names}.").format(names=assumed))
    return lines


def _shell_lines(sheet: Sheet) -> list[str]:
    drum = sheet.result.drum
    if drum.kind != "tom" or not drum.shell.shell_note_hz:
        return []
    band = shell_band(drum.shell.shell_note_hz)
    low, high = (note_of(hz, sheet.a4_hz).name(sheet.flats) for hz in band)
    return [
        _(
            "Shell note: some technicians stay between {low} and {high}; "
            "others find the best range by ear."
        ).format(low=low, high=high)
    ]


_PARTIAL_COLUMNS = (
    N_("Partial"),
    N_("Frequency"),
    N_("Note"),
    N_("Decay"),
    N_("Level"),
    N_("Mainly in"),
)


def _partial_name(order: int, rank: int, branch: str) -> str:
    if branch == "air":
        return _("air mode")
    return f"({order},{rank})" if branch == "single" else f"({order},{rank}) {branch}"


def _carrier(share: float, branch: str, names: tuple[str, str]) -> str:
    if branch == "air":
        return _("air")
    if 0.2 < share < 0.8:
        return _("both")
    return names[0 if share > 0.5 else 1]


def write_pdf(path: Path, sheet: Sheet) -> None:
    """Write the sheet as a vector PDF.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    title = _("{name}: settings").format(name=sheet.result.drum.name)
    with a4_pages(path, title) as writer, QPainter(writer) as painter:
        paint_sheet(painter, sheet)


def print_sheet(printer: QPrinter, sheet: Sheet) -> None:
    """Print the sheet on whatever paper the printer holds.

    Raises
    ------
    KesseltonError
        If the printer does not answer.
    """
    from PySide6.QtPrintSupport import QPrinter

    printer.setResolution(RESOLUTION)  # text is set in points: a finer grid would blow it up twice
    painter = QPainter()
    if not painter.begin(printer):
        raise KesseltonError(
            _("The printer does not respond."), _("Save the sheet as a PDF instead.")
        )
    try:
        page = printer.pageRect(QPrinter.Unit.DevicePixel)
        scale = min(page.width() / WIDTH, page.height() / HEIGHT)
        painter.scale(scale, scale)
        paint_sheet(painter, sheet)
    finally:
        painter.end()
