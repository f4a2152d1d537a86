"""Commands on drums: adding, removing, reading and writing them."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import Signal

from kesselton.core.errors import KesseltonError
from kesselton.core.heads.brief import Brief
from kesselton.core.instrument import drum as d
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import N_, _
from kesselton.store.io.atomic_file import with_suffix
from kesselton.ui.commands.group import CommandGroup, guarded

DRUM_FILES = N_("Drum files (*.drum.json *.json)")


class DrumCommands(CommandGroup):
    """Drums of the workshop.

    Signals
    -------
    added : a drum was added, and waits for its name
    file_wanted : a file of drums is to be read
    case_wanted(int drum id, Hit) : see how another drum was set, beside this one
    """

    added = Signal(str)
    file_wanted = Signal()
    case_wanted = Signal(int, object)

    def add(self, page: str = "") -> None:
        """A drum more: by kind and size, like the one on the bench, or from a file; then that page,
        "" for its name."""
        from kesselton.ui.drum_list.add_drum import AddDrumDialog

        drum, settings = self._bench.drum, self._bench.settings
        dialog = AddDrumDialog(
            drum.name if drum else "",
            settings.metric,
            self._hands.colours,
            self._parent,
        )
        dialog.created.connect(lambda result: self._put(result, _("add drum"), page))
        dialog.like_wanted.connect(self.add_like)
        dialog.file_wanted.connect(self.file_wanted)
        self._open_dialog(dialog)

    def add_like(self) -> None:
        """A copy of the drum on the bench, to be changed."""
        drum = self._bench.drum
        if drum is None:
            self.add()
        else:
            self._put(drum, _("add drum"))

    def _put(self, drum: Drum, label: str, page: str = "") -> None:
        from kesselton.app.workshop.usual_drums import unused_name

        document = self._bench.document
        taken = {entry.drum.name for entry in document.workshop.entries}
        name = unused_name(drum.name[:76], taken)
        document.add_drum(label, replace(drum, name=name))
        self.added.emit(page)
        with guarded(self.told):
            self._offer_case()

    def _offer_case(self) -> None:
        """Such a drum may have been set before: offer to look at how."""
        from kesselton.app.workshop.log_search import LogFinder

        document = self._bench.document
        finds, entry = LogFinder(document), document.entry
        if entry is None:
            return
        others = (hit for hit in finds.cases(entry) if hit.drum_id != entry.id)
        hit = next(others, None)
        item = None if hit is None else finds.kept(hit)
        if hit is not None and item is not None:
            text = _(
                "{name} added. A similar drum was logged before: {other}, "
                "{when}. Use it as a starting point."
            ).format(name=entry.drum.name, other=item.drum.name, when=hit.on[:10])
            self.offered.emit(text, True, _("Show"), lambda: self.case_wanted.emit(entry.id, hit))

    def offer_usual(self, drum: Drum) -> None:
        """The kind was changed: offer what that kind usually has."""
        from kesselton.app.workshop.usual_drums import as_usual

        def take() -> None:
            if self._bench.drum == drum:
                self._bench.commit_drum(_("typical values"), as_usual(drum))

        kind = d.KINDS[drum.kind]
        self.offered.emit(
            _("“{name}” is now a {kind}.").format(name=drum.name, kind=kind),
            True,
            _("Use typical heads, hoops and tuning of a {kind}").format(kind=kind),
            take,
        )

    def remove(self) -> None:
        """Take the drum off the drum list; undo brings it back."""
        drum = self._bench.drum
        if drum is not None:
            self._bench.document.remove_drum()
            self.notice.emit(_("“{name}” removed.").format(name=drum.name), True)

    def read(self, path: Path) -> None:
        """Read a drum file, with a name of its own in the workshop.

        Raises
        ------
        KesseltonError
            If it cannot be read, or the drum cannot be computed.
        """
        from kesselton.app.prediction.predictor import check
        from kesselton.app.workshop.usual_drums import unused_name
        from kesselton.store.formats.drum_file import load_drum

        document = self._bench.document
        taken = {entry.drum.name for entry in document.workshop.entries}
        drum = load_drum(path)
        check(drum)
        drum = replace(drum, name=unused_name(drum.name, taken))
        document.add_drum(_("import {name}").format(name=drum.name), drum)
        self.notice.emit(_("“{name}” imported.").format(name=drum.name), True)

    def export(self) -> None:
        """Write the drum on the bench as a drum file."""
        from kesselton.store.formats.drum_file import save_drum

        drum = self._bench.document.drum
        if drum is None:
            return
        name = f"{drum.name}.drum.json"
        path = self._asking.save(_("Export drum"), name, _(DRUM_FILES))
        if path is not None:
            path = with_suffix(path, ".json")
            with guarded(self.told):
                save_drum(drum, path)
                self.notice.emit(_("Saved: {path}").format(path=path), False)

    def keep_brief(self, brief: Brief) -> KesseltonError | None:
        """Keep what the drum on the bench must do; what is wrong with it, if it does not fit."""
        try:
            if self._bench.drum is not None:
                brief.check_fits(self._bench.drum)
        except KesseltonError as error:
            return error
        self._bench.document.change_entry(_("requirements"), brief=brief)
        return None
