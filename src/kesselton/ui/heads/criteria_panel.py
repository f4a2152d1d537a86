"""Why a pair stands where it stands: every criterion with value, wish, weight and reason."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import QSignalBlocker, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QGridLayout, QLabel, QVBoxLayout, QWidget

from kesselton.core.errors import KesseltonError
from kesselton.core.language import N_, _, begin, figures, ngettext
from kesselton.ui.heads.muffling_help import MOST_TOLD, Help, gain_words, pieces_words
from kesselton.ui.parts.widgets.fold import Fold
from kesselton.ui.parts.widgets.inputs import Slider
from kesselton.ui.parts.widgets.labels import Label, plain_tip
from kesselton.ui.parts.widgets.theme import font, px
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    import numpy as np

    from kesselton.core.heads.choose import Candidates
    from kesselton.core.heads.criteria import Criterion
    from kesselton.core.heads.muffled import Gain

STEPS = 10
"""Steps of a slider in a unit of weight."""
SOUND = (
    "like_ring", "like_bright", "like_partials", "like_lengths", "ring", "attack", "response",
    "wires", "clear", "speaks", "bright", "warm",
)  # fmt: skip
LEAST_TOLD = 0.05
"""Points."""
GROUPS = ((N_("Importance: sound"), True), (N_("Importance: feel, life, practice"), False))
"""Criteria of sound, and all others."""


class _Reasons(QWidget):
    """A title and a few short lines; away where there is nothing to say."""

    def __init__(self) -> None:
        super().__init__()
        self.title = Label()
        self.title.setFont(font(10, QFont.Weight.DemiBold))
        self.title.setWordWrap(True)
        self.text = Label()
        self.text.setWordWrap(True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(1)
        box.addWidget(self.title)
        box.addWidget(self.text)
        self.hide()

    def set_state(self, title: str, lines: list[str]) -> None:
        """Say it, or nothing where there is no title or no line."""
        self.title.setText(title)
        self.text.setText("\n".join(lines))
        self.setVisible(bool(title) and bool(lines))


def _points_words(points: float, what: str) -> str:
    """Points of 100 gained or lost, and by what."""
    value = figures(points, "+.1f")
    return _("{points}  {what}").format(points=value, what=what)


class CriteriaPanel(QWidget):
    """Why the chosen pair stands where it stands; behind rows, each criterion with its importance.

    Signals
    -------
    moved(dict of weights), while a slider moves; kept(dict of weights), when it is let go
    """

    moved = Signal(object)
    kept = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.sliders: dict[str, Slider] = {}
        self._labels: dict[str, tuple[QLabel, QLabel]] = {}
        self.reasons = [_Reasons() for _unused in range(5)]
        self.folds: dict[str, Fold] = {}
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(0, 0, 8, 0)
        self._box.setSpacing(6)
        for reasons in self.reasons:
            self._box.addWidget(reasons)
        self.note = Label(_("* Common practice, not computed. Sliders set importance."))
        self.note.setProperty("quiet", True)
        self.note.setWordWrap(True)
        self._box.addWidget(self.note)
        self._box.addStretch(1)

    @property
    def weights(self) -> dict[str, float]:
        """What the sliders say."""
        return {key: slider.value() / STEPS for key, slider in self.sliders.items()}

    def build(self) -> None:
        """Make the rows, once the core is there."""
        if self.sliders:
            return
        from kesselton.core.heads.criteria import CRITERIA

        for group, (title, keys) in enumerate(GROUPS):
            held = QWidget()
            grid = QGridLayout(held)
            grid.setContentsMargins(0, 0, 0, 0)
            grid.setHorizontalSpacing(8)
            grid.setVerticalSpacing(1)
            grid.setColumnStretch(0, 1)
            for row, criterion in enumerate(
                criterion for criterion in CRITERIA if (criterion.key in SOUND) == keys
            ):
                self._add(grid, row, criterion)
            self.folds[title] = fold = Fold(_(title))
            fold.hold(held)
            self._box.insertWidget(len(self.reasons) + group, fold)
        self.sliders = {criterion.key: self.sliders[criterion.key] for criterion in CRITERIA}

    def _add(self, grid: QGridLayout, row: int, criterion: Criterion) -> None:
        from kesselton.core.heads.criteria import COMMON_PRACTICE, HEAVIEST_WEIGHT

        star = " *" if criterion.source == COMMON_PRACTICE else ""
        title = Label(f"{begin(criterion.label)}{star}")
        title.setFont(font(9.5, QFont.Weight.DemiBold))
        title.setWordWrap(True)
        detail = Label()
        detail.setProperty("quiet", True)
        detail.setFont(font(9))
        detail.setWordWrap(True)
        slider = Slider()
        slider.setRange(0, int(HEAVIEST_WEIGHT * STEPS))
        slider.setPageStep(STEPS)
        slider.setFixedWidth(px(84))
        slider.setAccessibleName(_("Importance of {label}").format(label=criterion.label))
        title.setBuddy(slider)
        slider.valueChanged.connect(lambda _unused: self._on_moved())
        slider.sliderReleased.connect(lambda: self.kept.emit(self.weights))
        grid.addWidget(title, 2 * row, 0)
        grid.addWidget(detail, 2 * row + 1, 0)
        grid.addWidget(slider, 2 * row, 1, 2, 1)
        self.sliders[criterion.key] = slider
        self._labels[criterion.key] = (title, detail)

    def _on_moved(self) -> None:
        self.moved.emit(self.weights)
        self._say_weights()
        held = any(slider.isSliderDown() for slider in self.sliders.values())
        if not held:
            self.kept.emit(self.weights)

    def set_weights(self, weight: np.ndarray) -> None:
        """Put the sliders where the brief says."""
        for slider, value in zip(self.sliders.values(), weight, strict=True):
            if not slider.isSliderDown():
                with QSignalBlocker(slider):
                    slider.setValue(round(float(value) * STEPS))
        self._say_weights()

    def _say_weights(self) -> None:
        """What counts most, at the closed rows."""
        from kesselton.core.heads.criteria import CRITERIA

        labels = {criterion.key: criterion.label for criterion in CRITERIA}
        weights = self.weights
        for title, sound in GROUPS:
            mine = {key: w for key, w in weights.items() if (key in SOUND) == sound and w > 0}
            first = sorted(mine, key=lambda key: -mine[key])[:3]
            if title in self.folds:
                self.folds[title].set_gist(", ".join(labels[key] for key in first))

    def _say_why(self, candidates: Candidates, number: int) -> None:
        """Why a pair stands where it stands; nothing of one that cannot be set so."""
        import numpy as np

        from kesselton.core.heads.choose import reason_words
        from kesselton.core.heads.criteria import CRITERIA
        from kesselton.core.heads.why import why

        message = why(candidates, number, np.array(list(self.weights.values())))
        if not message.place:
            return
        first = message.place == 1
        other = (
            " / ".join(head.name for head in candidates.heads[message.rival])
            if message.rival >= 0
            else ""
        )
        title = (
            _("Against the second: {pair}") if first else _("Against the first: {pair}")
        ).format(pair=other)
        labels = [criterion.label for criterion in CRITERIA]
        lines = [_points_words(points, labels[row]) for row, points in message.ahead]
        lines += [_points_words(-points, labels[row]) for row, points in message.behind]
        if abs(message.rest) >= LEAST_TOLD or not lines:
            lines.append(_points_words(message.rest, _("everything else")))
        self.reasons[0].set_state(title if other else "", lines)
        self.reasons[1].set_state(
            _("What it lacks"),
            [
                _points_words(
                    -points,
                    _("{what}: {value}").format(
                        what=labels[row], value=reason_words(candidates, number, row)
                    ),
                )
                for row, points in message.lacks
            ],
        )
        ties = ngettext(
            "{count} other pair within a point", "{count} other pairs within a point", message.ties
        ).format(count=message.ties)
        self.reasons[2].set_state(_("As good") if message.ties else "", [ties])

    def say_muffled(
        self, help_: Help, chosen: tuple[Gain, ...], on_it: tuple[Gain, ...], own: float, place: int
    ) -> None:
        """What muffling would do for the pair, and for the heads that are on the drum.

        Parameters
        ----------
        own : points of the heads that are on the drum
        place : of the heads that are on the drum, from 1
        """
        from kesselton.core.heads.criteria import wanted_ring_s

        wanted = wording.seconds_words(wanted_ring_s(help_.candidates.drum, help_.candidates.brief))
        self.reasons[3].set_state(
            _("Muffled, for a decay of {wanted}").format(wanted=wanted),
            [gain_words(gain) for gain in chosen[:MOST_TOLD]],
        )
        if help_.present < 0:
            return
        lines = [_("{points:.1f} points, place {place}").format(points=own, place=place)]
        if on_it:
            best = on_it[0]
            lines.append(
                _("{points:.1f} with {pieces}: nothing to buy").format(
                    points=own + best.points, pieces=pieces_words(best.muffled.mufflers)
                )
            )
        self.reasons[4].set_state(_("Heads that are on it"), lines)

    def say_no_help(self, error: KesseltonError) -> None:
        """What muffling would do was not worked out."""
        self.reasons[3].set_state(_("Muffled"), [f"{error.message} {error.remedy}"])

    def set_state(self, candidates: Candidates | None, number: int) -> None:
        """Show one candidate."""
        for reasons in self.reasons:
            reasons.hide()
        if candidates is None:
            for _unused, detail in self._labels.values():
                detail.setText("")
            return
        if 0 <= number < len(candidates):
            self._say_why(candidates, number)
        from kesselton.core.heads.choose import reason_words
        from kesselton.core.heads.criteria import CRITERIA

        for row, criterion in enumerate(CRITERIA):
            title, detail = self._labels[criterion.key]
            judged = (
                math.isfinite(float(candidates.scores.value[row][0])) if len(candidates) else False
            )
            for widget in (title, detail, self.sliders[criterion.key]):
                widget.setVisible(judged)
            if number >= 0 and judged:
                text = reason_words(candidates, number, row)
                detail.setText(text)
                detail.setToolTip(plain_tip(text))
