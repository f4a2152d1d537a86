"""Colours, fonts and the Fusion style, ours on every platform."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import ClassVar

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication, QWidget
from shiboken6 import isValid

from kesselton.resources import resource

FONT_FILES = (
    "Inter-Regular.otf",
    "Inter-Medium.otf",
    "Inter-SemiBold.otf",
    "Inter-Bold.otf",
    "DejaVuSans.ttf",
)
FAMILIES = ["Inter", "DejaVu Sans"]
BASE_POINTS = 10.0
SMALLEST_POINTS, LARGEST_POINTS = 9.0, 16.0
"""Of the desktop's font, between which all screens are tried."""


@dataclass(frozen=True)
class Colours:
    """One theme. `flat` and `sharp` only repeat what side, glyph and word already say."""

    window: str
    panel: str
    drum_list: str
    line: str
    ink: str
    soft_ink: str
    accent: str
    on_accent: str
    band: str
    flat: str
    sharp: str
    wood: str
    metal: str
    dark: bool


LIGHT = Colours(
    "#f6f4ef",
    "#ffffff",
    "#eeebe2",
    "#dcd7ca",
    "#1f262d",
    "#5f6668",
    "#0f6b66",
    "#ffffff",
    "#e0eae7",
    "#3b4ba3",
    "#a85510",
    "#cdb48c",
    "#98a1ab",
    False,
)
DARK = Colours(
    "#1b1f22",
    "#24292d",
    "#16191c",
    "#3b4248",
    "#eceae4",
    "#a7adb0",
    "#53b9af",
    "#0d1f1e",
    "#243b3a",
    "#a0adf7",
    "#ecA763",
    "#8b7550",
    "#737c86",
    True,
)


DRESSED = "kesselton_dark"
DIRECT = Qt.FindChildOption.FindDirectChildrenOnly
AT_ONCE = 40
"""Of those on screen, dressed in the turn in which the palette changes; the others follow."""
AT_A_TIME = 30
"""Widgets dressed anew in one turn of the event loop; a tenth of a millisecond each."""


def load_fonts() -> list[str]:
    """Register the shipped fonts; returns those that could not be read."""
    missing = []
    for name in FONT_FILES:
        if QFontDatabase.addApplicationFont(str(resource(f"fonts/{name}"))) < 0:
            missing.append(name)
    return missing


class _Scale:
    """How much larger everything is than drawn in the source, as the desktop's font asks."""

    value = 1.0
    painting = False


def desktop_points() -> float:
    """Size of the desktop's font now."""
    return QFontDatabase.systemFont(QFontDatabase.SystemFont.GeneralFont).pointSizeF()


def followed_points() -> float:
    """Size of the desktop's font that everything is drawn for."""
    return _Scale.value * BASE_POINTS


def letters(points: float) -> float:
    """So large as letters get where the desktop's font has so many points."""
    return min(max(points, SMALLEST_POINTS), LARGEST_POINTS)


def follow_font(points: float) -> None:
    """Let everything be as large as the desktop's font of so many points asks."""
    _Scale.value = letters(points) / BASE_POINTS


def scale() -> float:
    """Pixels of the screen for one of the source; 1 while a picture is painted, which is drawn to
    the source's size and enlarged as a whole."""
    return 1.0 if _Scale.painting else _Scale.value


def enlarged() -> float:
    """Pixels of the screen for one of the source, also while a picture is painted."""
    return _Scale.value


def px(pixels: float) -> int:
    """Pixels of the source as pixels of the screen."""
    return round(pixels * scale())


@contextmanager
def painting() -> Iterator[None]:
    """Inside, sizes are those of the source: the painter enlarges, or it is paper."""
    before = _Scale.painting
    _Scale.painting = True
    try:
        yield
    finally:
        _Scale.painting = before


@contextmanager
def on_paper() -> Iterator[None]:
    """Inside, nothing is enlarged: paper has its own size."""
    before = _Scale.value
    _Scale.value = 1.0
    try:
        yield
    finally:
        _Scale.value = before


def font(points: float = BASE_POINTS, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """The program's font at a size, as large as the desktop's font asks."""
    qfont = QFont()
    qfont.setFamilies(FAMILIES)
    qfont.setPointSizeF(points * scale())
    qfont.setWeight(weight)
    return qfont


def desktop_is_dark(app: QApplication) -> bool:
    """Whether the desktop says it is."""
    return app.styleHints().colorScheme() == Qt.ColorScheme.Dark


def colours_for(app: QApplication, theme: str) -> Colours:
    """The theme asked for; "system" follows the desktop where it says anything."""
    if theme == "system":
        return DARK if desktop_is_dark(app) else LIGHT
    return DARK if theme == "dark" else LIGHT


def apply(app: QApplication, colours: Colours) -> None:
    """Dress the whole application, unless it wears this already.

    Windows wear the `sheet` themselves: worn by the application, it is matched anew against all
    that a part holds whenever the part gets another parent, and pages are put together from parts.
    It names roles of the palette, so that another theme is another palette: a sheet set anew would
    be matched against every widget there is, which takes a second and more.
    """
    worn = app.property(DRESSED)
    if worn == colours.dark:
        return
    app.setProperty(DRESSED, colours.dark)
    if worn is None:
        app.setStyle("Fusion")
    app.setPalette(_palette(colours))
    if worn is None:
        app.setFont(font())
    if worn is not None:
        _Redress.begin(app)


def dressing() -> bool:
    """Whether some that are not on screen still wear the theme before."""
    return bool(_Redress.waiting) or _Redress.on_screen is not None


class _Redress:
    """Takes the rules of widgets anew from the palette: of those on screen at once, then of what
    may be shown in their place, of the others a few at a time, so that the window answers."""

    waiting: ClassVar[list[QWidget]] = []

    on_screen: ClassVar[set[QWidget] | None] = None
    """Those on screen and right behind it, until the others are looked for."""

    @classmethod
    def begin(cls, app: QApplication) -> None:
        now, near = cls._on_screen(app)
        cls._dress(now[:AT_ONCE])
        going = dressing()
        cls.waiting, cls.on_screen = now[AT_ONCE:] + near, {*now, *near}
        if not going:
            QTimer.singleShot(0, cls._go_on)

    @staticmethod
    def _on_screen(app: QApplication) -> tuple[list[QWidget], list[QWidget]]:
        """What is seen, and what stands right behind it; what lies deeper is not looked through."""
        seen = [widget for widget in app.topLevelWidgets() if widget.isVisible()]
        behind: list[QWidget] = []
        for around in seen:  # grows on the way
            for widget in around.findChildren(QWidget, options=DIRECT):
                (seen if widget.isVisible() else behind).append(widget)
        return seen, behind

    @classmethod
    def _go_on(cls) -> None:
        if not cls.waiting and cls.on_screen is not None:
            widgets, cls.on_screen = cls.on_screen, None
            cls.waiting = [widget for widget in QApplication.allWidgets() if widget not in widgets]
        else:
            now, cls.waiting = cls.waiting[:AT_A_TIME], cls.waiting[AT_A_TIME:]
            cls._dress(now)
        if dressing():
            QTimer.singleShot(0, cls._go_on)

    @staticmethod
    def _dress(widgets: list[QWidget]) -> None:
        for widget in widgets:
            if isValid(widget):
                style = widget.style()
                style.unpolish(widget)
                style.polish(widget)
                widget.update()


def _palette(colours: Colours) -> QPalette:
    palette = QPalette()
    role = QPalette.ColorRole
    for key, colour in (
        (role.Window, colours.window),
        (role.Base, colours.panel),
        (role.AlternateBase, colours.drum_list),
        (role.Button, colours.panel),
        (role.Text, colours.ink),
        (role.WindowText, colours.ink),
        (role.ButtonText, colours.ink),
        (role.ToolTipBase, colours.panel),
        (role.ToolTipText, colours.ink),
        (role.PlaceholderText, colours.soft_ink),
        (role.Highlight, colours.accent),
        (role.HighlightedText, colours.on_accent),
        (role.Accent, colours.accent),
        (role.Link, colours.accent),
        (role.Midlight, colours.line),
        (role.LinkVisited, colours.sharp),
    ):
        palette.setColor(key, QColor(colour))
    for key in (role.Text, role.WindowText, role.ButtonText):
        palette.setColor(QPalette.ColorGroup.Disabled, key, QColor(colours.soft_ink))
    return palette


def night_sheet(fit: float) -> str:
    """For what is dark in every theme, in colours of its own; buttons `fit` times as high."""
    c = DARK
    return f"""
    QWidget#night {{ background: {c.window}; }}
    QLabel {{ color: {c.ink}; }}
    QLabel[quiet="true"] {{ color: {c.soft_ink}; }}
    QLabel[fault="true"] {{ color: {c.sharp}; }}
    QPushButton {{
        background: {c.panel}; color: {c.ink}; border: 1px solid {c.line}; border-radius: 8px;
        padding: 6px 10px; min-height: {px(58.0 * fit)}px; }}
    QPushButton#main {{
        background: {c.accent}; color: {c.on_accent}; border: 1px solid {c.accent}; }}
    """


def sheet() -> str:
    """For both themes, in roles of the palette.

    The ink is that of tool tips: text and window text are what a rule made them.
    """
    window, panel, line, ink, soft, accent, on_accent, sharp = (
        f"palette({role})"
        for role in (
            "window",
            "base",
            "midlight",
            "tool-tip-text",
            "placeholder-text",
            "accent",
            "highlighted-text",
            "link-visited",
        )
    )
    arrow, tick = (resource(f"icons/{name}.svg").as_posix() for name in ("down", "tick"))
    return f"""
    QWidget#bench {{ background: {window}; }}
    QFrame#topbar {{ background: {panel}; border: 0; border-bottom: 1px solid {line}; }}
    QLabel[quiet="true"] {{ color: {soft}; }}
    QLabel[fault="true"] {{ color: {sharp}; }}
    QLineEdit, QComboBox {{
        background: {panel}; border: 1px solid {line}; border-radius: 4px;
        padding: 3px 8px; min-height: 20px; }}
    QLineEdit:focus, QComboBox:focus {{ border: 2px solid {accent}; padding: 2px 7px; }}
    QLineEdit[fault="true"] {{ border: 2px solid {sharp}; padding: 2px 7px; }}
    QComboBox {{ padding: 3px 2px 3px 6px; combobox-popup: 0; }}
    QComboBox QAbstractItemView {{
        background: {panel}; color: {ink}; border: 1px solid {line}; border-radius: 0;
        selection-background-color: {accent}; selection-color: {on_accent}; }}
    QComboBox QAbstractItemView::item {{ min-height: 24px; padding: 0 6px; }}
    QComboBox QAbstractItemView::item:selected {{ background: {accent}; color: {on_accent}; }}
    QComboBox:focus {{ padding: 2px 1px 2px 5px; }}
    QComboBox::drop-down {{ border: 0; width: 18px; }}
    QComboBox::down-arrow {{ image: url({arrow}); width: 10px; height: 6px; }}
    QPushButton {{
        background: {panel}; border: 1px solid {line}; border-radius: 6px;
        padding: 6px 14px; min-height: 22px; }}
    QPushButton:focus {{ border: 2px solid {accent}; padding: 5px 13px; }}
    QPushButton#main {{
        background: {accent}; color: {on_accent}; border: 1px solid {accent};
        font-weight: 600; }}
    QPushButton#main:disabled {{
        background: {line}; color: {soft}; border-color: {line}; }}
    QPushButton#main:focus {{ border: 2px solid {ink}; }}
    QPushButton#chip {{ border-radius: 12px; padding: 3px 10px; min-height: 18px; }}
    QPushButton#fold {{
        background: transparent; border: 1px solid transparent; border-radius: 4px;
        padding: 3px 4px; min-height: 18px; text-align: left; }}
    QPushButton#fold:focus {{ border: 2px solid {accent}; padding: 2px 3px; }}
    QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
    QScrollBar:horizontal {{ background: transparent; height: 10px; margin: 0; }}
    QScrollBar::handle {{
        background: {line}; border-radius: 4px; margin: 1px; min-height: 28px; min-width: 28px; }}
    QScrollBar::handle:hover {{ background: {soft}; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
    QPushButton#stage {{
        background: transparent; border: 0; border-bottom: 3px solid transparent;
        border-radius: 0; padding: 6px 10px; min-height: 20px; }}
    QPushButton#stage:checked {{
        color: {accent}; font-weight: 600; border-bottom: 3px solid {accent}; }}
    QPushButton#stage:focus {{
        border: 2px solid {accent}; border-radius: 4px; padding: 4px 8px; }}
    QCheckBox, QSlider {{ border: 1px solid transparent; border-radius: 4px; padding: 1px; }}
    QCheckBox::indicator, QTableView::indicator {{
        width: 14px; height: 14px; border: 1px solid {soft}; border-radius: 3px;
        background: {panel}; }}
    QCheckBox::indicator:checked, QTableView::indicator:checked {{
        border: 2px solid {accent}; width: 12px; height: 12px; image: url({tick}); }}
    QSlider::groove:horizontal {{ height: 3px; background: {soft}; border-radius: 1px; }}
    QSlider::handle:horizontal {{
        width: 14px; height: 14px; margin: -6px 0; border-radius: 7px; background: {accent}; }}
    QSlider::handle:horizontal:disabled {{ background: {soft}; }}
    QCheckBox:focus, QSlider:focus {{ border: 1px solid {accent}; }}
    QWidget#page {{ border: 2px solid transparent; border-radius: 6px; }}
    QWidget#page:focus {{ border-top: 2px solid {accent}; }}
    QListView {{
        background: {panel}; border: 1px solid {line}; border-radius: 6px; outline: 0; }}
    QListView:focus {{ border: 2px solid {accent}; }}
    QProgressBar {{ background: {line}; border: 0; border-radius: 3px; }}
    QProgressBar::chunk {{ background: {accent}; border-radius: 3px; }}
    QFrame#between {{ background: {line}; border: 0; }}
    QFrame#card, QFrame#soundbar {{
        background: {panel}; border: 1px solid {line}; border-radius: 6px; }}
    QFrame#soundbar, QFrame#message {{ margin-bottom: 8px; }}
    QLabel#caution {{
        background: {panel}; border-left: 5px solid {sharp}; padding: 6px 10px; }}
    QListWidget {{
        background: {panel}; border: 1px solid {line}; border-radius: 6px; outline: 0; }}
    QListWidget:focus {{ border: 2px solid {accent}; }}
    QFrame#message {{ background: {panel}; border: 1px solid {sharp}; border-radius: 6px; }}
    QMenuBar {{ background: {panel}; }}
    QMenuBar QPushButton#chip {{ margin: 2px 12px 0 0; padding: 1px 10px; }}
    QScrollArea {{ border: 0; background: transparent; }}
    QToolTip {{ border: 1px solid {line}; padding: 4px; }}
    """
