"""What is worked out of a drum once its result stands: gauges, sweet spot, port, wires."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.bench.measuring import Planned
from kesselton.app.host.jobs import Latest
from kesselton.app.host.settings import Settings
from kesselton.app.prediction.predictor import BenchResult
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.air import Air
from kesselton.store.workshop.holdings import Entry, Workshop

if TYPE_CHECKING:
    from kesselton.core.prediction.passage import Struck
    from kesselton.core.prediction.port import PortView
    from kesselton.core.prediction.recut import Recut
    from kesselton.core.prediction.speaks import Speaking
    from kesselton.core.prediction.wires import WiresView

HOURS = 24.0
"""After fitting: when a new head is looked at again."""


@dataclass(frozen=True)
class Further:
    """What is worked out of a drum once its result stands: where it speaks, what its port does,
    how its wires answer and what a proper edge would buy (None without); what every beater does at
    every place."""

    speaks: Speaking
    port: PortView | None
    wires: WiresView | None
    recut: Recut | None = None
    strokes: tuple[Struck, ...] = ()


class FurtherAnswers(QObject):
    """Some twenty drums solved, after everything else.

    Signals
    -------
    answered(Further), failed(KesseltonError)
    """

    answered = Signal(object)
    failed = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._worker = Latest(self._on_answered, self._on_failed, self)
        self._answer: Further | None = None
        self._terms: tuple[object, ...] = ()

    def ask(self, result: BenchResult, settings: Settings) -> None:
        """Work it out, unless it is known."""
        terms = _further_terms(result, settings)
        if self._terms == terms:
            return

        def work() -> Further:
            from kesselton.core.prediction.passage import every_stroke
            from kesselton.core.prediction.port import port_view
            from kesselton.core.prediction.recut import recut
            from kesselton.core.prediction.speaks import Shares, speaking_or_why
            from kesselton.core.prediction.wires import wires_view

            shares = Shares(settings.outlast_share, settings.glide_share)
            prediction = result.prediction
            pair = prediction.tensions_n_per_m
            speaks = speaking_or_why(result.drum, pair, result.stroke, shares)
            edge = recut(result.drum, prediction, shares)
            strokes = tuple(every_stroke(prediction))
            return Further(speaks, port_view(prediction), wires_view(prediction), edge, strokes)

        self._worker.request(terms, work)

    def of(self, result: BenchResult, settings: Settings) -> Further | None:
        """The answer for a result, None while it is worked out."""
        return self._answer if self._terms == _further_terms(result, settings) else None

    def stop(self) -> None:
        """End the thread."""
        self._worker.stop()

    def _on_answered(self, terms: tuple[object, ...], answer: Further) -> None:
        self._answer, self._terms = answer, terms
        self.answered.emit(answer)

    def _on_failed(self, terms: tuple[object, ...], error: KesseltonError) -> None:
        self.failed.emit(error)


class PlanAnswers(QObject):
    """What gauges must read, worked out once the grips rest.

    Signals
    -------
    answered(BenchResult, tuple terms, Planned), failed(BenchResult, KesseltonError)
    """

    answered = Signal(object, object, object)
    failed = Signal(object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._worker = Latest(self._on_answered, self._on_failed, self)
        self._plan: Planned | None = None
        self._terms: tuple[object, ...] = ()

    def ask(
        self, result: BenchResult, entry: Entry, workshop: Workshop, settings: Settings
    ) -> None:
        """Work it out."""
        stage = Air(settings.stage_c, settings.stage_rh, entry.drum.air.pressure_pa)

        def work() -> Planned:
            from kesselton.app.bench.measuring import plan

            return plan(entry, workshop, result.prediction, stage, HOURS)

        self._worker.request((result, _plan_terms(entry, workshop, settings)), work)

    def of(self, entry: Entry, workshop: Workshop, settings: Settings) -> Planned | None:
        """The plan of a drum as it is set, None while it is worked out."""
        return self._plan if self._terms == _plan_terms(entry, workshop, settings) else None

    def keep(self, plan: Planned | None, terms: tuple[object, ...] = ()) -> None:
        """A plan is the one that holds; None: there is none."""
        self._plan, self._terms = plan, terms

    def stop(self) -> None:
        """End the thread."""
        self._worker.stop()

    def _on_answered(self, asked: tuple[BenchResult, tuple[object, ...]], plan: Planned) -> None:
        self.answered.emit(*asked, plan)

    def _on_failed(
        self, asked: tuple[BenchResult, tuple[object, ...]], error: KesseltonError
    ) -> None:
        self.failed.emit(asked[0], error)


def _further_terms(result: BenchResult, settings: Settings) -> tuple[object, ...]:
    return (result.drum, result.stroke, settings.outlast_share, settings.glide_share)


def _plan_terms(entry: Entry, workshop: Workshop, settings: Settings) -> tuple[object, ...]:
    stage = (settings.stage_c, settings.stage_rh)
    return (entry.drum, entry.readings, entry.kept, workshop.dials, workshop.keys, stage)
