"""Commands on the workshop: files, heads in stock, what to buy."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.gauge import Dial, TorqueKey
from kesselton.core.language import N_, _
from kesselton.store.io.atomic_file import with_suffix
from kesselton.store.io.errors import DamagedError
from kesselton.store.workshop.connection import SUFFIX
from kesselton.ui.commands.group import CommandGroup, Hands, guarded

if TYPE_CHECKING:
    from kesselton.core.heads.buying import BuyLine

WORKSHOP_FILES = N_("Workshops (*{suffix})")


class WorkshopCommands(CommandGroup):
    """Workshop files, stock and gauges."""

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        self.missing: Callable[[], Sequence[BuyLine]] = list
        """What shows still need."""

    def new(self) -> None:
        """Make a workshop file and open it in a window of its own."""
        path = self._asking.save(
            _("New workshop"), f"{_('workshop')}{SUFFIX}", _(WORKSHOP_FILES).format(suffix=SUFFIX)
        )
        if path is not None:
            self.open_file(with_suffix(path, SUFFIX), must_be_new=True)

    def open(self) -> None:
        """Open another workshop file in a window of its own."""
        path = self._asking.open(_("Open workshop"), _(WORKSHOP_FILES).format(suffix=SUFFIX))
        if path is not None:
            self.open_file(path, must_be_new=False)

    def open_file(self, path: Path, must_be_new: bool) -> None:
        """Open a workshop file in a window of its own, or say why not."""
        with guarded(self.told):
            if must_be_new and path.exists():
                raise KesseltonError(
                    _("A file named {name} exists already.").format(name=path.name),
                    _("Choose another name."),
                )
            try:
                self._hands.open_another(str(path), self._bench.settings_store)
            except DamagedError:
                self.offered.emit(
                    _("{name} is damaged; what is readable opens in a new file.").format(
                        name=path.name
                    ), False,
                    _("Recover readable parts"), lambda: self._salvage(path),
                )  # fmt: skip
                raise

    def _salvage(self, path: Path) -> None:
        """Open what can be read of a damaged workshop, in a window of its own."""
        with guarded(self.told):
            self._hands.open_another(str(path), self._bench.settings_store, salvaged=True)

    def save_copy(self) -> None:
        """Write the workshop to another file and go on in that."""
        document = self._bench.document
        path = self._asking.save(
            _("Save a copy as"), document.path.name, _(WORKSHOP_FILES).format(suffix=SUFFIX)
        )
        if path is not None:
            with guarded(self.told):
                document.save_copy(with_suffix(path, SUFFIX))
                self.notice.emit(_("Copy saved and open: {path}").format(path=document.path), False)

    def restore(self) -> None:
        """Go back to the state of an earlier day."""
        from kesselton.ui.dialogs.restore_dialog import RestoreDialog

        document = self._bench.document
        dialog = RestoreDialog(document.path, self._parent)
        dialog.restored.connect(
            lambda workshop, day: document.commit(_("restore {day}").format(day=day), workshop)
        )
        self._open_dialog(dialog)

    def rename(self) -> None:
        """Give the workshop another name; its file keeps its own."""
        document = self._bench.document
        name = self._asking.text(_("Rename workshop"), _("Name"), document.workshop.name)
        if name and name.strip():
            document.commit(
                _("rename workshop"), replace(document.workshop, name=name.strip()[:80])
            )

    def open_demo(self) -> None:
        """Open the demo workshop in a window of its own."""
        with guarded(self.told):
            self._hands.open_another("demo", self._bench.settings_store)

    def stock(self) -> None:
        """Note what is in store, and add heads of one's own."""
        from kesselton.ui.heads.store_dialog import StoreDialog

        document, display = self._bench.document, self._display
        if document.drum is None:
            return
        dialog = StoreDialog(
            document.drum, document.workshop, display.metric, display.a4_hz, display.note,
            self._parent,
        )  # fmt: skip
        dialog.shelved.connect(
            lambda noted: document.commit(
                _("heads in stock"), document.workshop.with_shelved(noted)
            )
        )
        dialog.head_made.connect(
            lambda head: document.commit(
                _("head {name}").format(name=head.name),
                replace(document.workshop, library=(*document.workshop.library, head)),
            )
        )
        self._open_dialog(dialog)

    def buy_list(self) -> None:
        """What to buy for the heads that are planned."""
        from kesselton.ui.heads.buy_dialog import BuyDialog

        workshop = self._bench.document.workshop
        dialog = BuyDialog(workshop, self._asking.save, self._parent, self.missing())
        self._open_dialog(dialog)

    def change_gauges(
        self, label: str, dials: tuple[Dial, ...], keys: tuple[TorqueKey, ...]
    ) -> None:
        """Keep another register of gauges."""
        document = self._bench.document
        document.commit(label, replace(document.workshop, dials=dials, keys=keys))

    def rename_gauge(self, old: str, new: str) -> None:
        """Call a gauge otherwise, in the readings taken by it too."""
        document = self._bench.document
        document.commit(
            _("rename {old}").format(old=old), document.workshop.with_gauge_renamed(old, new)
        )
