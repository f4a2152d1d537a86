"""Rod by rod in the night: the one reading or turn that gains most, and what would be left now."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QWidget

from kesselton.app.bench.reading_sources import ReadingSources, typed_reading
from kesselton.app.shows.repair_bench import CLEAR_KEY, RepairBench
from kesselton.core.errors import KesseltonError
from kesselton.core.fit.procedure import Step, is_roped
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import N_, _, figures
from kesselton.core.shows.repair import Repair
from kesselton.ui.parts.words import wording
from kesselton.ui.shows.night_face import NightFace

if TYPE_CHECKING:
    from kesselton.core.clear.taps.tap import HeardTap
    from kesselton.core.shows.race import Advice

SOURCE_WORDS = {
    "dial": N_("gauge, entered"),
    "pitch": N_("pitch in Hz, entered"),
    "both": N_("gauge or pitch, entered"),
    "bench": N_("simulated head, band playing"),
    "microphone": N_("microphone: tap with the key"),
}

BAND_DB = 20.0
"""How far the simulated taps stand over the band that plays."""
SOURCES = tuple(SOURCE_WORDS)
KINDS = {
    "dial": ("dial",),
    "pitch": ("lug_pitch",),
    "both": ("dial", "lug_pitch"),
    "bench": ("dial", "lug_pitch"),
    "microphone": ("lug_pitch",),
}
BENCH = {"dial": "bench_dial", "lug_pitch": "bench_tap"}


class NightRods(NightFace):
    """The night at the step where rods are read and turned; `Night` has the rest."""

    def __init__(self, repairs: RepairBench, a4: Callable[[], float], parent: QWidget) -> None:
        super().__init__(parent)
        self._repairs, self._a4 = repairs, a4
        self._typed, self._said = "", ""
        self.source = "dial"
        self.sources = ReadingSources(self)
        self.sources.bench.band_db = BAND_DB
        self.sources.read.connect(self._on_read)
        self.sources.heard.connect(self._on_tap)
        self.sources.refused.connect(self._on_refused)

    def refresh(self) -> None:
        """Everything anew."""
        raise TypeError(f"{type(self).__name__} does not say what to show.")

    def _say(self, text: str) -> None:
        self._said = text
        self.refresh()

    @property
    def step(self) -> Step | None:
        """The step on show."""
        repair, procedure = self._repairs.repair, self._repairs.procedure
        if repair is None or procedure is None:
            return None
        steps, place = repair.place_in(procedure)
        return steps[place]

    @property
    def advice(self) -> Advice | None:
        """What to read or turn next, at the step where that is asked."""
        step = self.step
        return self._repairs.advice if step is not None and step.key == CLEAR_KEY else None

    def _no_rods(self) -> bool:
        drum = self._repairs.drum
        return drum is None or is_roped(drum)

    def _show_clear(self, repair: Repair) -> None:
        """Read and turn, one rod at a time."""
        self._repairs.ask_advice(KINDS[self.source])
        advice, drum = self._repairs.advice, self._repairs.drum
        assert drum is not None
        self.sources.follow(drum, repair.clearing)
        source = _("read by: {source} (R to change)").format(source=_(SOURCE_WORDS[self.source]))
        self.entry.setVisible(True)
        self.entry.setText(f"{self._typed}▏" if self._typed else "")
        if advice is None:
            if self._repairs.last_advice is None:
                self.head(_("Computing the best next move…"), "", self._said)
            self.offer("…", skip=True)  # a moment: what stands there stays
            return
        away = {}
        if advice.state is not None:
            every = advice.state.pitch_cents - advice.state.pitch_cents.mean()
            away = dict(enumerate(every.tolist(), start=1))
        self.ring.set_state(drum.shell.rods, advice.rod, (), away)
        now = self._now_words(advice)
        words = wording.turn_words_of(drum)
        if advice.what == "turn":
            turn = f"{words.way(advice.turns)} {words.amount(advice.turns)}"
            self.head(
                _("Rod {rod}: {turn}").format(rod=advice.rod, turn=turn), now, self._said or source
            )
            self.offer(_("Turned (Space)"), skip=True)
        elif advice.what == "read":
            how = _("gauge") if advice.kind == "dial" else _("tap, pitch")
            waiting = self.sources.microphone.listening and self.source == "microphone"
            if waiting:
                source = _("Listening: tap rod {rod}").format(rod=advice.rod)
            elif self.sources.busy:
                source = _("Reading…")
            self.head(
                _("Rod {rod}: {how}").format(rod=advice.rod, how=how), now, self._said or source
            )
            button = (
                _("Read (Space)") if self._reads_itself and not self._typed else _("Enter (Space)")
            )
            self.offer(button, skip=True)
        else:
            self.head(_("Good enough"), now, self._said)
            self.offer(_("Continue (Space)"), skip=False)

    def _now_words(self, advice: Advice) -> str:
        now = advice.now
        if now.worst_rod == 0:
            return _("Not read yet: rods are usually about {cents} cents apart").format(
                cents=figures(now.expected_cents, ".0f")
            )
        words = _("If the curtain rose now: rods about {cents} cents apart, at most {most}").format(
            cents=figures(now.expected_cents, ".0f"), most=figures(now.spread_cents, ".0f")
        )
        if 2.0 * abs(now.worst_cents) > now.expected_cents:  # what was read explains it
            away = _("{cents} sharp") if now.worst_cents > 0 else _("{cents} flat")
            words = _("{now}; worst rod {rod}, {away}").format(
                now=words,
                rod=now.worst_rod,
                away=away.format(cents=figures(abs(now.worst_cents), ".0f")),
            )
        if advice.what == "enough":
            return words
        then = _("after the planned turns: about {cents} cents").format(
            cents=figures(advice.then_cents, ".0f")
        )
        return f"{words}; {then}"

    @property
    def _reads_itself(self) -> bool:
        return self.source in ("bench", "microphone")

    def _done_at_rod(self) -> None:
        advice = self.advice
        if advice is None:
            return  # it is worked out what comes next: nothing is done twice
        if self._typed:
            self._enter(advice)
        elif advice.what == "turn":
            self._repairs.turned(advice.rod, advice.turns)
        elif advice.what == "read":
            self.read_rod()
        else:
            self._repairs.finish_step()

    def _enter(self, advice: Advice) -> None:
        """What stands typed is the reading that is asked for; "3:82" names its rod."""
        drum = self._repairs.drum
        repair = self._repairs.repair
        if drum is None or repair is None:
            return
        kind = (
            advice.kind or KINDS[self.source][0]
        )  # a reading nobody asked for is one all the same
        from kesselton.app.bench.reading_sources import rod_and_value

        try:
            rod, text = rod_and_value(self._typed.replace(",", "."), advice.rod, drum.shell.rods)
            reading = typed_reading(kind, rod, text, self._a4(), repair.clearing.now)
        except KesseltonError as error:
            self._on_refused(error)
            return
        self._typed = ""
        self._repairs.read(reading)

    def read_rod(self) -> None:
        """Let the simulated head be read, or listen at the microphone."""
        advice, entry, repair, drum = (
            self.advice,
            self._repairs.entry,
            self._repairs.repair,
            self._repairs.drum,
        )
        if (
            advice is None
            or advice.what != "read"
            or entry is None
            or repair is None
            or drum is None
        ):
            return
        if self.source == "bench":
            if not self.sources.busy:
                refitted = replace(entry, drum=drum)
                self.sources.name = BENCH[advice.kind]
                self.sources.take(refitted, self._repairs.workshop, repair.clearing, advice.rod)
                self.refresh()
        elif self.source == "microphone":
            self.sources.name = "microphone"
            if not self.sources.microphone.listening:
                self.sources.toggle_listening()
            self.refresh()
        else:
            self._say(_("Type the reading, then Space. R changes the reading method."))

    def _on_read(self, reading: Reading, heard: HeardTap | None) -> None:
        advice = self.advice
        if self.isVisible() and advice is not None and advice.rod == reading.rod:
            self._repairs.read(reading)

    def _on_tap(self, heard: HeardTap) -> None:
        from kesselton.core.clear.clearing_records import at_rod

        advice = self.advice
        if self.isVisible() and advice is not None and advice.what == "read":
            self._repairs.read(
                at_rod("lug_pitch", advice.rod, heard.lug_pitch_hz, heard.spread_cents)
            )

    def _on_refused(self, error: KesseltonError) -> None:
        if self.isVisible():
            self._say(f"{error.message} {error.remedy}")

    def next_source(self) -> None:
        """Read by another means."""
        if self.step is not None:
            place = (SOURCES.index(self.source) + 1) % len(SOURCES)
            self.source, self._typed = SOURCES[place], ""
            self.sources.quiet()
            self._say("")
