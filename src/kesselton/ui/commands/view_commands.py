"""Commands on the view: theme, units, help, copying what is shown."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from kesselton.core.errors import KesseltonError
from kesselton.core.language import _
from kesselton.ui.commands.group import CommandGroup
from kesselton.ui.parts.widgets.picture import Picture


class ViewCommands(CommandGroup):
    """How the program is shown."""

    def toggle(self, setting: str) -> None:
        """A setting that is on or off, the other way."""
        store = self._bench.settings_store
        store.change(**{setting: not getattr(store.values, setting)})

    def theme(self, name: str) -> None:
        """Light, dark, or as the desktop."""
        self._bench.settings_store.change(theme=name)

    def full_screen(self) -> None:
        """The window over the whole screen, or as it was."""
        window = self._parent.window()
        window.setWindowState(window.windowState() ^ Qt.WindowState.WindowFullScreen)

    def preferences(self) -> None:
        """How things are shown."""
        from kesselton.ui.dialogs.preferences import PreferencesDialog

        self._open_dialog(PreferencesDialog(self._bench.settings_store, self._parent))

    def show_handbook(self) -> None:
        """The handbook."""
        from kesselton.ui.dialogs.help import HandbookDialog

        self._open_dialog(HandbookDialog(self._parent))

    def show_shortcuts(self) -> None:
        """The list of all keys."""
        from kesselton.ui.dialogs.help import KeysDialog

        self._open_dialog(KeysDialog(self._parent))

    def show_about(self) -> None:
        """Which program this is."""
        from kesselton.ui.dialogs.help import AboutDialog

        self._open_dialog(AboutDialog(self._parent))

    def copy_picture(self) -> None:
        """The picture in hand to the clipboard."""
        picture = self._picture(lambda item: True)
        if picture is not None:
            picture.copy_picture()
            self.notice.emit(
                _("Picture copied: {name}").format(name=picture.accessibleName()), False
            )

    def copy_table(self) -> None:
        """The numbers of the picture in hand to the clipboard."""
        picture = self._picture(lambda picture: bool(picture.table()))
        if picture is not None:
            picture.copy_table()
            self.notice.emit(_("Table copied: {name}").format(name=picture.accessibleName()), False)

    def _picture(self, suits: Callable[[Picture], bool]) -> Picture | None:
        """The picture with the keys, or the largest that is shown beside the drum list."""
        has = QApplication.focusWidget()
        if isinstance(has, Picture) and has.main and suits(has):
            return has
        shown = [
            picture
            for picture in self._parent.findChildren(Picture)
            if picture.isVisible() and picture.main and suits(picture)
        ]
        if not shown:
            self.told.emit(
                KesseltonError(
                    _("There is no picture to copy here."), _("Go to Tuning, Clear or Gauges.")
                ),
                "",
            )
            return None
        return max(shown, key=lambda item: item.width() * item.height())
