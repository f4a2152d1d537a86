"""The main window: drum list, pages, messages, and the only wiring between them."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PySide6.QtCore import QEvent, Qt, QTimer, Signal
from PySide6.QtGui import (
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QGuiApplication,
    QKeyEvent,
    QResizeEvent,
    QShowEvent,
)
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QMainWindow,
    QMenu,
    QVBoxLayout,
    QWidget,
)

from kesselton.app.bench.bench import Bench
from kesselton.app.bench.measuring import Planned
from kesselton.app.host.preload import Preloader
from kesselton.app.host.settings import Settings, SettingsStore, drum_left, with_recent
from kesselton.app.host.single_instance import SingleInstance
from kesselton.app.prediction.predictor import BenchResult
from kesselton.app.sound.stroke_player import StrokePlayer
from kesselton.app.workshop.document import Document, Saved
from kesselton.core.errors import KesseltonError
from kesselton.core.language import _
from kesselton.core.pitch import note_of
from kesselton.ui.commands.commands import Commands
from kesselton.ui.drum_list.drum_column import DrumColumn
from kesselton.ui.menu.actions import build
from kesselton.ui.parts.widgets import theme
from kesselton.ui.parts.widgets.inputs import Line
from kesselton.ui.parts.widgets.messages import MessageBar, Unexpected
from kesselton.ui.parts.widgets.notice_bar import NoticeBar
from kesselton.ui.parts.widgets.page_area import PageArea
from kesselton.ui.parts.widgets.picture import Picture, one_by_one
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.sound_bar import SoundBar
from kesselton.ui.parts.widgets.tab_order import go_on
from kesselton.ui.parts.words.display_format import DisplayFormat
from kesselton.ui.tuning.tuning_page import TuningPage
from kesselton.ui.window.pages import Pages
from kesselton.ui.window.topbar import PAGES, TopBar

if TYPE_CHECKING:
    from kesselton.ui.log.drawer import LogDrawer

AFTER_FIRST_PAINT_MS = 30
RACK_ACTIONS = ("drum_new", "drum_like", "drum_export", "drum_remove")
PRELOADED = (
    "kesselton.ui.heads.heads_page",
    "kesselton.ui.clear.clear_page",
    "kesselton.ui.fit.fit_page",
    "kesselton.ui.measure.measure_page",
    "kesselton.ui.measure.gauges_page",
    "kesselton.ui.log.log_page",
    "kesselton.ui.sets.set_page",
    "kesselton.ui.shows.shows_page",
    "kesselton.ui.shows.night",
    "kesselton.ui.practice.practice_page",
    "kesselton.core.practice.exercises",
    "kesselton.core.measure.inspection",
    "kesselton.core.sets.search.whole",
)
"""Modules of the pages, and of what they work out at first sight, read in once the first drum
is worked out."""
TITLE_PIXELS = 30
"""What a desktop usually puts over a window, until the window is there to be asked."""
NARROW = 900
"""Under so many pixels of the source the drum list is folded."""
FRAMED_MS = (200, 800)
"""A desktop puts its frame round a window when it likes."""
LETTERS_ALIKE = 0.25
"""Points."""
PAGE_KEYS = tuple(key for key, _unused in PAGES)


class MainWindow(QMainWindow):
    """One workshop: the drum list beside the pages of the work.

    Signals
    -------
    anew_wanted : the same work in a window laid out anew, for the letters the desktop has now
    """

    anew_wanted = Signal()

    def __init__(
        self,
        document: Document,
        settings: SettingsStore,
        open_another: Callable[..., object],
    ) -> None:
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        theme.apply(app, theme.colours_for(app, settings.values.theme))  # what is made wears it
        super().__init__()
        self.bench = bench = Bench(document, settings, self)
        self.bench.predictor.hold()
        self.colours = theme.LIGHT
        self._letters = theme.letters(theme.desktop_points())
        self._left = False
        self._warned_of: set[str] = set()  # what stood typed when quitting was last tried
        self.listener = StrokePlayer(self)
        self.single_instance = SingleInstance(document.path, self)
        self.preloader = Preloader(PRELOADED, self)
        self.display = display = DisplayFormat(lambda: bench.settings)
        self.commands = Commands(bench, self.listener, display, open_another, self)
        self.topbar = TopBar()
        self.drum_column = DrumColumn()
        self.drum_list = self.drum_column.drum_list
        self.sound_bar = SoundBar()
        self.message = MessageBar()
        self.notice = NoticeBar()
        self.drawer: LogDrawer | None = None
        self.pages = Pages(bench, self.commands, self.listener, display)
        self.commands.sound.choosing_pairs = lambda: self.pages.page_name == "heads"
        self.actions_by_id = build(self, self.commands)
        for name, button in self.topbar.pages.items():
            action = self.actions_by_id[f"page_{name}"]
            keys = action.shortcut().toString()
            button.setToolTip(f"{action.text().replace('&', '')} ({keys})")
        self.menuBar().setCornerWidget(self.topbar.go_to)
        self._lay_out()
        self._connect()
        self.setMinimumSize(1000, 640)
        self.setAcceptDrops(True)
        self.drum_list.more = [self.actions_by_id[name] for name in RACK_ACTIONS]
        self._make_recent()
        self._come_back()
        self.setStyleSheet(theme.sheet())
        self.dress()
        bench.refresh()

    def _lay_out(self) -> None:
        with_rack = QHBoxLayout()
        with_rack.setContentsMargins(0, 0, 0, 0)
        with_rack.setSpacing(12)
        with_rack.addWidget(self.drum_column, 0)
        with_rack.addWidget(PageArea(self.pages), 1)
        middle = QWidget()
        middle.setObjectName("bench")
        whole = QVBoxLayout(middle)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.topbar)
        whole.addLayout(with_rack, 1)
        self.drawer_place = QVBoxLayout()
        whole.addLayout(self.drawer_place)
        for bar in (self.notice, self.sound_bar, self.message):
            foot = QHBoxLayout()
            foot.setContentsMargins(12, 0, 12, 0)
            foot.addWidget(bar)
            whole.addLayout(foot)
        self.setCentralWidget(middle)

    def _make_recent(self) -> None:
        """A menu of the workshops used last, filled when it is opened."""
        self.recent = QMenu(_("Open recent"), self)
        self.recent.aboutToShow.connect(self._fill_recent)
        after = self.actions_by_id["workshop_rename"]
        after.associatedObjects()[0].insertMenu(after, self.recent)  # type: ignore[attr-defined]

    def _fill_recent(self) -> None:
        self.recent.clear()
        here = str(self.document.path.resolve())
        paths = [
            Path(text) for text in self.settings.recent if text != here and Path(text).exists()
        ]
        for path in paths:
            action = self.recent.addAction(f"{path.stem}    {path.parent}")
            action.triggered.connect(partial(self.commands.take_file, path))
        if not paths:
            self.recent.addAction(_("none yet")).setEnabled(False)

    def _come_back(self) -> None:
        """To where the work was left: size, drum and page."""
        settings = self.settings
        wide, high = settings.window or (1280, 800)
        room = self.screen().availableGeometry()
        if self._seen:
            wide, high = min(wide, room.width()), min(high, room.height() - TITLE_PIXELS)
        self.resize(wide, high)
        if settings.maximized:
            self.setWindowState(self.windowState() | Qt.WindowState.WindowMaximized)
        self.document.select(drum_left(settings, str(self.document.path.resolve())))
        self.choose_page(settings.page if settings.page in PAGE_KEYS else "tuning")

    @property
    def _seen(self) -> bool:
        """Whether there is a screen that somebody looks at."""
        return QGuiApplication.platformName() != "offscreen"

    def _remember(self) -> None:
        """Where the work is left."""
        path = str(self.document.path.resolve())
        size = self.normalGeometry().size() if self.isMaximized() else self.size()
        self.bench.settings_store.change(
            **with_recent(self.settings, path, self.document.current_id),
            window=(size.width(), size.height()),
            maximized=self.isMaximized(),
            page=self.page_name,
        )

    @safe_override
    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if any(url.isLocalFile() for url in event.mimeData().urls()):
            event.acceptProposedAction()

    @safe_override
    def dropEvent(self, event: QDropEvent) -> None:
        for url in event.mimeData().urls():
            if url.isLocalFile():
                self.commands.take_file(Path(url.toLocalFile()))

    def _connect(self) -> None:
        """All wiring between the parts."""
        bench, doc, commands = self.bench, self.bench.document, self.commands
        doc.save_failed.connect(lambda error: self.message.tell(error, "save", retry=True))
        doc.noticed.connect(lambda error: self.message.tell(error, "file"))
        doc.saved.connect(lambda: self.message.take_back("save"))
        self.message.retry_wanted.connect(doc.save)
        self.single_instance.rung.connect(self.come_forward)
        doc.moved.connect(lambda: self.single_instance.listen_for(doc.path))
        bench.changed.connect(self._on_changed)
        commands.logs.drawer_wanted.connect(self.turn_drawer)
        bench.listed_pitch.connect(self._on_listed_pitch)
        bench.planned.connect(lambda plan: self.preloader.start())
        self.preloader.done.connect(self.pages.prepare)
        bench.refused.connect(self._on_refused)
        bench.failed.connect(self._on_failed)
        bench.accepted.connect(lambda: self.message.take_back("drum"))
        bench.settings_store.failed.connect(lambda error: self.message.tell(error, "settings"))
        bench.settings_store.changed.connect(self.dress)
        QGuiApplication.styleHints().colorSchemeChanged.connect(self.dress)
        self.drum_list.drum_chosen.connect(doc.select)
        self.drum_column.add_wanted.connect(commands.drums.add)
        self.drum_list.moved.connect(doc.move_drum)
        settings = bench.settings_store
        self.topbar.stage_air_edited.connect(self._on_stage_air)
        self.topbar.a4_edited.connect(lambda hz: settings.change(a4_hz=hz))
        self.topbar.metric_chosen.connect(lambda on: settings.change(metric=on))
        self.topbar.air_edited.connect(
            lambda air: bench.set_air(air[0], air[1], _("bench temperature"))
        )
        self.topbar.page_chosen.connect(self.pages.choose)
        self.pages.shown.connect(self.topbar.mark_page)
        commands.told.connect(self.message.tell)
        commands.notice.connect(self.notice.say)
        commands.offered.connect(
            lambda text, undo, offer, run: self.notice.say(text, undo, (offer, run))
        )
        self.notice.undo_wanted.connect(doc.undo)
        commands.stepped.connect(self._on_stepped)
        bench.went.connect(lambda text: self.notice.say(text, undo=True))
        commands.page_wanted.connect(self.pages.choose)
        commands.part_wanted.connect(self._on_part_wanted)
        commands.focus_wanted.connect(self._on_focus_wanted)
        commands.sound.pair_wanted.connect(self.pages.listen_to_chosen)
        commands.sound.hear_wanted.connect(self.pages.hear)
        commands.sound.heard_wanted.connect(self.pages.show_heard)
        commands.sound_dropped.connect(self._on_sound_dropped)
        commands.readings_dropped.connect(self._on_readings_dropped)
        commands.close_wanted.connect(self.close)
        commands.go_to_wanted.connect(self.go_to)
        self.topbar.go_to_wanted.connect(self.go_to)
        self.listener.state_changed.connect(self._on_sound)
        self.listener.failed.connect(lambda error: self.message.tell(error, "sound"))
        self.sound_bar.other_wanted.connect(commands.sound.play_other)
        self.sound_bar.save_wanted.connect(commands.sound.save)
        self.sound_bar.closed.connect(self._on_sound_closed)

    def turn_drawer(self) -> None:
        """Show the log beside the page, or put it away."""
        from kesselton.ui.log.drawer import LogDrawer

        if self.drawer is None:
            self.drawer = LogDrawer(self.display.note)
            self.drawer.hide()
            self.drawer.keep_wanted.connect(self.commands.logs.keep_wanted.emit)
            self.drawer.log_wanted.connect(lambda: self.choose_page("log"))
            self.drawer.closed.connect(self.turn_drawer)
            self.drawer_place.addWidget(self.drawer)
        shown = self.drawer.isHidden()
        self.drawer.setVisible(shown)
        if shown:
            self.drawer.set_state(self.bench.entry)
            self.drawer.list.setFocus()

    def go_to(self) -> None:
        """The list of everything there is to go to or to do."""
        from kesselton.ui.dialogs.go_to import MOST_RECENT, GoToDialog
        from kesselton.ui.window.places import entries_with, places

        store = self.bench.settings_store

        def remember(key: str) -> None:
            rest = (text for text in store.values.gone_to if text != key)
            store.change(gone_to=(key, *rest)[:MOST_RECENT])

        dialog = GoToDialog(
            places(self), lambda words: entries_with(self, words), store.values.gone_to, self
        )
        dialog.chosen.connect(remember)
        self.commands.hands.show(dialog)

    # what other windows and tests ask for

    @property
    def document(self) -> Document:
        """The open workshop."""
        return self.bench.document

    @property
    def settings(self) -> Settings:
        """How things are shown."""
        return self.bench.settings

    @property
    def result(self) -> BenchResult | None:
        """What is known of the drum on the bench."""
        return self.bench.result

    @property
    def plan(self) -> Planned | None:
        """What gauges must read for the drum on the bench, once it is worked out."""
        return self.bench.plan

    @property
    def page_name(self) -> str:
        """The name of the page on show."""
        return self.pages.page_name

    @property
    def tuning(self) -> TuningPage:
        """Section, ladder, readout of the drum on the bench."""
        return self.pages.tuning

    # state

    def dress(self) -> None:
        """Apply the theme."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        colours = theme.colours_for(app, self.settings.theme)
        theme.apply(app, colours)
        if colours != self.colours:
            self.colours = colours
            one_by_one([picture for picture in self.findChildren(Picture) if picture.isVisible()])
            for view in (self.drum_list, self.pages):
                view.set_colours(colours)
        self.actions_by_id["metric"].setChecked(self.settings.metric)
        self.actions_by_id["flats"].setChecked(self.settings.flats)
        self.actions_by_id[f"theme_{self.settings.theme}"].setChecked(True)

    @safe_override
    def event(self, event: QEvent) -> bool:
        """A key that the page on show means something by is no shortcut, wherever the keys are; the
        desktop may get other letters while the program runs."""
        key = isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride
        if key and self.pages.means(cast("QKeyEvent", event)):
            event.accept()
            return True
        if event.type() == QEvent.Type.ThemeChange:
            points = theme.letters(theme.desktop_points())
            if abs(points - self._letters) > LETTERS_ALIKE:
                self._letters = points
                if abs(points - theme.followed_points()) > LETTERS_ALIKE:
                    message = _("The desktop font is now {points:g} pt.").format(points=points)
                    self.notice.say(message, offer=(_("Use this size"), self.anew_wanted.emit))
        return super().event(event)

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        """What nobody had a use for is for the page on show, wherever the keys are."""
        if not self.pages.take_key(event):
            super().keyPressEvent(event)

    @safe_override
    def focusNextPrevChild(self, next: bool) -> bool:
        return go_on(self, next)

    def choose_page(self, name: str) -> None:
        """Show one page."""
        self.pages.choose(name)

    def _on_changed(self) -> None:
        doc, settings, drum = self.document, self.settings, self.bench.drum
        self.notice.outdated()
        self.setWindowTitle(_("{name} — Kesselton").format(name=doc.workshop.name))
        self.topbar.set_state(
            doc.workshop.name,
            doc.read_only,
            settings.a4_hz,
            settings.metric,
            (drum.air.temperature_c, drum.air.relative_humidity) if drum else None,
            (settings.stage_c, settings.stage_rh),
        )
        self.drum_column.set_state(doc.workshop.entries, doc.current_id, settings.metric)
        for action, text, words in (
            ("undo", doc.undo_text, _("&Undo {step}")),
            ("redo", doc.redo_text, _("&Redo {step}")),
        ):
            self.actions_by_id[action].setEnabled(bool(text))
            self.actions_by_id[action].setText(words.format(step=text.replace("&", "&&")).strip())
        for action in (
            "drum_like", "drum_remove", "drum_export", "sheet_pdf", "sheet_print", "listen",
            "hear", "heard", "keep",
        ):  # fmt: skip
            self.actions_by_id[action].setEnabled(drum is not None)
        if self.drawer is not None and self.drawer.isVisible():
            self.drawer.set_state(self.bench.entry)

    def _on_stepped(self, place: str) -> None:
        """A step was taken back or again: its page is shown, and what it made untrue goes."""
        self.pages.forget_said()
        self.message.outdated()
        if place and place != self.page_name:
            self.choose_page(place)

    def _on_stage_air(self, air: tuple[float, float | None]) -> None:
        celsius, damp = air
        more = {} if damp is None else {"stage_rh": damp}
        self.bench.settings_store.change(stage_c=celsius, **more)

    # what the bench says

    def _on_refused(self, error: KesseltonError) -> None:
        if not self.tuning.complain(error):
            self.message.tell(error, "drum")

    def _on_failed(self, error: KesseltonError, topic: str) -> None:
        if topic == "drum":
            self._on_refused(error)
        else:
            self.message.tell(error, topic)

    def _on_listed_pitch(self, drum_id: int, hz: float | None) -> None:
        settings = self.settings
        note = "?" if hz is None else note_of(hz, settings.a4_hz).name(settings.flats)
        self.drum_list.set_note(drum_id, note)

    # where to go

    def _on_part_wanted(self, part: str) -> None:
        self.choose_page("tuning")
        self.tuning.choose_part(part)
        self.tuning.forms.first_field(part).setFocus()

    def _on_focus_wanted(self, where: str) -> None:
        if where == "name":
            self.choose_page("tuning")
            self.tuning.choose_part("shell")
            line = self.tuning.forms.shell.name.line
            line.setFocus()
            line.selectAll()
        elif where == "rack":
            self.drum_list.setFocus()
        elif where == "find":
            self.drum_column.find()
        else:
            self.choose_page("tuning")
            {"section": self.tuning.section, "ladder": self.tuning.ladder}[where].setFocus()

    def _on_sound_dropped(self, path: Path) -> None:
        self.pages.clear.import_taps(path)  # the page is made by now

    def _on_readings_dropped(self, text: str) -> None:
        """Where they are read one after another they are of the round, else of the drum."""
        if self.page_name != "clear":
            self.choose_page("measure")
        self.pages.page.take_readings(text)

    def _on_sound(self, text: str) -> None:
        self.sound_bar.set_state(text, [heard.name for heard in self.listener.last])

    def _on_sound_closed(self) -> None:
        self.listener.player.stop()
        self.sound_bar.hide()

    def watch(self, unexpected: Unexpected) -> None:
        """Show what the hook of last resort catches."""
        unexpected.caught.connect(self._on_unexpected)

    def _on_unexpected(self, error: KesseltonError) -> None:
        """Say what happened, and whether the work is saved: the file is asked, not believed."""
        message = {
            Saved.YES: _("{remedy} Your work is saved in {path} (checked)."),
            Saved.NO: _(
                "{remedy} Your last changes are not yet in {path}: click Try "
                "again, or save a copy elsewhere."
            ),
            Saved.READ_ONLY: _("{remedy} {path} is open read-only: changes are not saved."),
        }[self.document.looked_up()]
        error.remedy = message.format(path=self.document.path, remedy=error.remedy).strip()
        self.message.tell(error, retry=self.document.unsaved)

    def come_forward(self) -> None:
        """To where it can be seen, with the keys."""
        self.setWindowState(self.windowState() & ~Qt.WindowState.WindowMinimized)
        self.show()
        self.raise_()
        self.activateWindow()

    @safe_override
    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        QTimer.singleShot(AFTER_FIRST_PAINT_MS, self.bench.predictor.go)
        for later in (AFTER_FIRST_PAINT_MS, *FRAMED_MS):
            QTimer.singleShot(later, self._keep_inside)

    @safe_override
    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.drum_column.fold(self.width() < theme.px(NARROW))

    def _keep_inside(self) -> None:
        """With its frame no larger than what is free of the screen, and all of it there."""
        if self.isMaximized() or self.isFullScreen() or not self._seen:
            return
        room, frame = self.screen().availableGeometry(), self.frameGeometry()
        if room.contains(frame):
            return
        wide, high = frame.width() - self.width(), frame.height() - self.height()
        self.resize(
            min(self.width(), room.width() - wide), min(self.height(), room.height() - high)
        )
        frame = self.frameGeometry()
        left = max(room.left(), min(frame.left(), room.right() + 1 - frame.width()))
        top = max(room.top(), min(frame.top(), room.bottom() + 1 - frame.height()))
        self.move(left, top)

    def leave(self) -> bool:
        """Give the document up to another window; not while something is typed that cannot be
        taken, or somebody practises."""
        if self.pages.practising:
            self.message.tell(
                KesseltonError(
                    _("An exercise is running."),
                    _("Finish it in Practice, then set the font size again."),
                )
            )
            return False
        self.bench.finish_hold()
        if not self._enter_all():
            return False
        self._remember()
        self._stop()
        self.document.disconnect_all()
        self._left = True
        return True

    def _stop(self) -> None:
        for part in (self.bench, self.pages, self.listener, self.single_instance, self.preloader):
            part.stop()

    @safe_override
    def closeEvent(self, event: QCloseEvent) -> None:
        if self._left:
            super().closeEvent(event)
            return
        document = self.document
        self.bench.finish_hold()
        if not self._enter_all():
            event.ignore()
            return
        if document.unsaved and not document.read_only:
            document.save()
        if document.unsaved and not self.commands.asking.may_lose_changes():
            event.ignore()
            return
        self._remember()
        self.hide()  # the hand is done; what has to end may end unseen
        self._stop()
        document.close()
        super().closeEvent(event)

    def _enter_all(self) -> bool:
        """Enter whatever stands typed in some line; False, once, if something cannot be taken."""
        left = [line for line in self.findChildren(Line) if line.unsent and not line.enter()]
        if {line.text() for line in left} <= self._warned_of:
            return True
        self._warned_of = {line.text() for line in left}
        line = left[0]
        self.pages.show_line(line)
        self.message.tell(
            KesseltonError(
                _("“{text}” in “{name}” is not valid.").format(
                    text=line.text(), name=line.accessibleName()
                ),
                _("Correct it, or quit again to discard it."),
            )
        )
        return False
