"""Fields that take what technicians write and say at the field what is wrong with it."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QSignalBlocker, Signal
from PySide6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from kesselton.core.errors import InputError, check_range
from kesselton.core.instrument.air import COLDEST_C, HOTTEST_C
from kesselton.core.language import _, figures
from kesselton.core.pitch import parse_pitch
from kesselton.core.units import format_length, parse_length
from kesselton.ui.parts.widgets.elided import Elided
from kesselton.ui.parts.widgets.inputs import Box, Line
from kesselton.ui.parts.widgets.labels import Label, plain_tip
from kesselton.ui.parts.widgets.theme import px


def mark(widget: QWidget, name: str, on: bool) -> None:
    """Set or clear a property the style sheet looks at."""
    if bool(widget.property(name)) != on:
        widget.setProperty(name, on)
        widget.style().unpolish(widget)
        widget.style().polish(widget)


def mark_fault(widget: QWidget, fault: bool) -> None:
    """Let the style sheet show or hide the fault."""
    mark(widget, "fault", fault)


def may_shrink(*widgets: QWidget) -> None:
    """Let the column decide how wide these are, not their text."""
    for widget in widgets:
        widget.setMinimumWidth(px(40))
        widget.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)


AIR_NUMBER = re.compile(r"-?\d+(?:[.,]\d+)?(?!\d)")
KG_PER_POUND = 0.45359237
"""Exact (international avoirdupois pound, 1959)."""


class Field(QWidget):
    """A caption, a line to type in, and room for a complaint below it.

    Signals
    -------
    edited(object) : a new, valid value. A faulty text stays where it is until it is corrected or
        Escape brings the last value back.
    entered : Enter was pressed and the text could be taken
    """

    edited = Signal(object)
    entered = Signal()
    is_pitch = False
    """True where its value is a pitch in hertz, which can be sounded."""

    def __init__(
        self,
        caption: str,
        read: Callable[[str], Any],
        write: Callable[[Any], str],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._read, self._write = read, write
        self._value: Any = None
        self.caption = Elided(caption)
        self.caption.setProperty("quiet", True)
        self.line = Line()
        self.line.setAccessibleName(caption)
        self.caption.setBuddy(self.line)
        may_shrink(self.caption, self.line)
        self.fault = Label()
        self.fault.setProperty("fault", True)
        self.fault.setWordWrap(True)
        self.fault.hide()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        self._remark: Label | None = None  # few fields ever ask
        for widget in (self.caption, self.line, self.fault):
            layout.addWidget(widget)
        self.line.editingFinished.connect(self._on_finished)
        self.line.escaped.connect(self.revert)
        self.line.returnPressed.connect(self._on_return)

    @property
    def value(self) -> Any:
        """The last valid value."""
        return self._value

    def set_state(self, value: Any) -> None:
        """Show a value, unless something is typed here that was not entered yet."""
        changed = value != self._value
        self._value = value
        if not self.line.unsent and (changed or not self.line.property("fault")):
            self.revert()

    def revert(self) -> None:
        """Show the last valid value again, whatever is typed."""
        with QSignalBlocker(self.line):
            self.line.show_text(self._write(self._value))
        self.complain("")

    def let_go(self) -> str:
        """Another drum comes: what is typed here is not of it; returns what is dropped."""
        dropped = self.line.text() if self.line.unsent else ""
        self.revert()
        return dropped

    def complain(self, text: str) -> None:
        """Show a complaint at the field; "" takes it back. What is complained of was not taken."""
        if text:
            self.line.sent = self._write(self._value)
        mark_fault(self.line, bool(text))
        self.fault.setText(text)
        self.fault.setVisible(bool(text))

    def ask(self, text: str) -> None:
        """Ask about what was taken; "" takes the question back."""
        if text or self._remark is not None:
            self.remark.setText(text)
            self.remark.setVisible(bool(text))

    @property
    def remark(self) -> Label:
        """Where a question stands."""
        if self._remark is None:
            self._remark = Label()
            self._remark.setProperty("quiet", True)
            self._remark.setWordWrap(True)
            self._remark.hide()
            layout = self.layout()
            assert layout is not None
            layout.addWidget(self._remark)
        return self._remark

    def _on_return(self) -> None:
        self._on_finished()  # Qt tells of Enter before it tells of the text
        if not self.line.unsent:
            self.entered.emit()

    def _on_finished(self) -> None:
        text = self.line.text()
        if text == self._write(self._value):
            self.complain("")
            return
        try:
            value = self._read(text)
        except InputError as error:
            self.complain(error.one_line() if not error.path else f"{error.message} {error.remedy}")
            return
        self.complain("")
        if value == self._value:
            self.revert()
            return
        self.line.sent = text  # whoever takes it shows it as it is written
        self.edited.emit(value)


def length_field(caption: str, low_m: float, high_m: float, metric: Callable[[], bool]) -> Field:
    """A drum dimension between two limits, shown in the units in force."""

    def read(text: str) -> float:
        value = parse_length(text, "mm" if metric() else "in")
        if not low_m <= value <= high_m:
            span = _("{format_length} to {format_length_2}").format(
                format_length=format_length(low_m, metric()),
                format_length_2=format_length(high_m, metric()),
            )
            raise InputError(
                _("{strip} is outside the range for drums.").format(strip=text.strip()),
                _("Use {span}.").format(span=span),
            )
        return value

    return Field(caption, read, lambda v: "" if v is None else format_length(v, metric()))


def number_field(
    caption: str, low: float, high: float, unit: str, digits: int = 2, whole: bool = False
) -> Field:
    """A number between two limits; its unit may be typed or left out."""

    def read(text: str) -> float | int:
        bare = text.strip().removesuffix(unit).strip().replace(",", ".").replace("−", "-")
        try:
            value = float(bare)
        except ValueError:
            raise InputError(
                _("“{strip}” is not a number.").format(strip=text.strip()),
                _("Enter it as {low:g}.").format(low=low),
            ) from None
        if not low <= value <= high:
            raise InputError(
                _("{strip} is out of range.").format(strip=text.strip()),
                _("Use {low:g} to {high:g} {unit}.")
                .format(low=low, high=high, unit=unit)
                .replace(" .", "."),
            )
        if whole and value != int(value):
            raise InputError(_("{strip} is not a whole number.").format(strip=text.strip()))
        return int(value) if whole else value

    def write(value: float | None) -> str:
        if value is None:
            return ""
        return figures(value, "d") if whole else f"{value:.{digits}f} {unit}".strip()

    return Field(caption, read, write)


def guessable(field: Field) -> Field:
    """A field whose value may be a guess, written with a question mark: (value, guessed)."""
    read, write = field._read, field._write

    def read_guess(text: str) -> tuple[Any, bool]:
        bare = text.rstrip()
        return read(bare.removesuffix("?").rstrip()), bare.endswith("?")

    def write_guess(value: tuple[Any, bool] | None) -> str:
        return "" if value is None else write(value[0]) + (" ?" if value[1] else "")

    field._read, field._write = read_guess, write_guess
    return field


def air_field(caption: str) -> Field:
    """Temperature and relative humidity, "20 °C 50 %"; the humidity may be left out."""

    def read(text: str) -> tuple[float, float | None]:
        values = [float(v.replace(",", ".")) for v in AIR_NUMBER.findall(text.replace("−", "-"))]
        if not 1 <= len(values) <= 2:
            raise InputError(
                _("“{strip}” is not a number.").format(strip=text.strip()),
                _("Enter it as 20 °C, 50 %."),
            )
        check_range(values[0], COLDEST_C, HOTTEST_C, _("Temperature"), "°C")
        if len(values) == 1:
            return values[0], None
        check_range(values[1], 0.0, 100.0, _("Humidity"), "%")
        return values[0], values[1] / 100.0

    def write(value: tuple[float, float | None] | None) -> str:
        if value is None:
            return ""
        damp = "" if value[1] is None else f" {figures(100.0 * value[1], '.0f')} %"
        return f"{figures(value[0], '.0f')} °C{damp}"

    return Field(caption, read, write)


def mass_field(caption: str, low_kg: float, high_kg: float) -> Field:
    """A mass in kilograms, or in pounds where that is said; it may be left empty."""

    def read(text: str) -> float | None:
        bare = text.strip().lower()
        if not bare:
            return None
        pounds = bare.endswith(("lb", "lbs", "pounds"))
        number = bare.rstrip("abcdefghijklmnopqrstuvwxyz. ").replace(",", ".")
        try:
            value = float(number) * (KG_PER_POUND if pounds else 1.0)
        except ValueError:
            raise InputError(
                _("“{strip}” is not a number.").format(strip=text.strip()),
                _("Enter it as 3.2 kg or 7 lb."),
            ) from None
        check_range(value, low_kg, high_kg, _("Mass"), "kg")
        return value

    return Field(caption, read, lambda v: "" if v is None else f"{figures(v, '.2f')} kg")


def pitch_field(
    caption: str,
    low_hz: float,
    high_hz: float,
    a4: Callable[[], float],
    show: Callable[[float], str],
    optional: bool = False,
) -> Field:
    """A note or a frequency; an optional one may be left empty."""

    def read(text: str) -> float | None:
        if optional and not text.strip():
            return None
        value = parse_pitch(text.split("·")[0], a4())
        if not low_hz <= value <= high_hz:
            raise InputError(
                _("{strip} is outside the pitch range of drums.").format(strip=text.strip()),
                _("Use {low_hz:g} to {high_hz:g} Hz.").format(low_hz=low_hz, high_hz=high_hz),
            )
        return value

    field = Field(caption, read, lambda v: "" if v is None else show(v))
    field.is_pitch = True
    return field


class Choice(QWidget):
    """A caption and a list to choose from; emits the key chosen."""

    chosen = Signal(object)

    def __init__(self, caption: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.caption = Elided(caption)
        self.caption.setProperty("quiet", True)
        self.box = Box()
        self.box.setAccessibleName(caption)
        self.box.setSizeAdjustPolicy(Box.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.box.setMinimumContentsLength(8)
        # where the text does not fit
        self.box.currentTextChanged.connect(lambda text: self.box.setToolTip(plain_tip(text)))
        self.caption.setBuddy(self.box)
        may_shrink(self.caption, self.box)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        layout.addWidget(self.caption)
        layout.addWidget(self.box)
        layout.addStretch(1)
        self._options: list[tuple[Any, str]] = []
        self.box.activated.connect(self._on_activated)

    def set_options(self, options: list[tuple[Any, str]]) -> None:
        """Offer (key, text) pairs."""
        if options == self._options:
            return
        self._options = options
        with QSignalBlocker(self.box):
            self.box.clear()
            self.box.addItems([text for _unused, text in options])

    def set_state(self, key: Any) -> None:
        """Show the option with this key."""
        place = next((i for i, (k, _unused) in enumerate(self._options) if k == key), -1)
        with QSignalBlocker(self.box):
            self.box.setCurrentIndex(place)

    def _on_activated(self, index: int) -> None:
        self.chosen.emit(self._options[index][0])
