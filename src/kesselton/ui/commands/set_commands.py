"""What is done with sets of drums: made, their drums chosen, played, written as a sheet."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

from kesselton.app.sets.set_bench import SetBench
from kesselton.core.language import _
from kesselton.core.sets.model.kit import Kit
from kesselton.ui.commands.group import CommandGroup, Hands, guarded

if TYPE_CHECKING:
    from kesselton.core.prediction.render import Sound
    from kesselton.core.sets.search.plan import Plan


class SetCommands(CommandGroup):
    """Sets of drums."""

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        self.sets = SetBench(hands.bench, self)

    def new(self) -> None:
        """Choose drums for a new set."""
        workshop = self._bench.document.workshop
        taken = {kit.name for kit in workshop.kits}
        name = next(
            text
            for number in range(1, len(taken) + 2)
            if (text := _("Set {number}").format(number=number)) not in taken
        )
        self._choose_drums(Kit(workshop.next_kit_id(), name), _("add set {name}"))

    def drums(self) -> None:
        """Choose the drums of the set that is looked at."""
        kit = self.sets.kit
        if kit is not None:
            self._choose_drums(kit, _("drums of {name}"))

    def _choose_drums(self, kit: Kit, label: str) -> None:
        from kesselton.ui.sets.drums_dialog import DrumsDialog

        drums = [(entry.id, entry.drum) for entry in self._bench.document.workshop.entries]
        dialog = DrumsDialog(kit, drums, self._parent)

        def take() -> None:
            self.sets.put(label.format(name=dialog.kit.name), dialog.kit)
            self.page_wanted.emit("set")

        dialog.accepted.connect(take)
        self._open_dialog(dialog)

    def play(self, pattern: str, muted: int, plan: Plan | None) -> None:
        """Let the set be heard, as it is or as a plan has it."""
        kit, solved_set = self.sets.kit, self.sets.solved_set
        if kit is None or solved_set is None:
            return
        words = _("{name}, plan, {pattern}") if plan is not None else _("{name}, now, {pattern}")
        name = words.format(name=kit.name, pattern=pattern)
        muted_drums = frozenset() if muted < 0 else frozenset({muted})
        a4 = self.sets.a4_hz

        def work() -> Sound:
            from kesselton.core.sets.search.whole import as_planned
            from kesselton.core.sets.together.groove import groove, one_by_one, render_hits

            heard = (
                list(solved_set.predictions) if plan is None else as_planned(solved_set, plan, a4)
            )
            hits = (
                one_by_one(solved_set.members)
                if pattern == "one"
                else groove(solved_set.members, pattern)
            )
            return render_hits(dict(enumerate(heard)), hits, muted_drums)

        self._listener.hear_sound(name, work)

    def sheet(self, plan: Plan | None, show: Callable[[float], str]) -> None:
        """Write the sheet of the set: targets, order of work, conflicts; or the set as a file."""
        kit, solved_set, planned = self.sets.kit, self.sets.solved_set, self.sets.plans
        if kit is None or solved_set is None or planned is None:
            self.notice.emit(_("Still computing the set; save its sheet in a moment."), False)
            return
        path = self._asking.save(
            _("Save set sheet"),
            _("{name} set.pdf").format(name=kit.name),
            _("PDF (*.pdf);;SVG (*.svg);;Markdown (*.md);;Set file (*.set.json)"),
        )
        if path is None:
            return
        from kesselton.ui.sets.set_sheet import SetSheet, write_set_sheet

        if path.name.lower().endswith(".json"):
            with guarded(self.told):
                self._write_set(path, kit)
            return
        settings = self._bench.settings
        sheet = SetSheet(
            kit, solved_set, plan, self._bench.document.workshop.name,
            settings.a4_hz, settings.flats, settings.metric, date.today(),
        )  # fmt: skip
        with guarded(self.told):
            written = write_set_sheet(path, sheet, show)
            self.notice.emit(_("Saved as {name}.").format(name=written.name), False)

    def import_file(self, path: Path) -> None:
        """A set of a file with its drums.

        Raises
        ------
        KesseltonError
            If it cannot be read.
        """
        from kesselton.app.workshop.transfer import import_set

        document = self._bench.document
        workshop, name = import_set(document.workshop, path)
        document.commit(_("import {name}").format(name=name), workshop)
        self.sets.choose(workshop.kits[-1].id)
        self.page_wanted.emit("set")
        self.notice.emit(_("Set {name} imported with its drums.").format(name=name), True)

    def _write_set(self, path: Path, kit: Kit) -> None:
        """The set with its drums as a file other programs read."""
        from kesselton.store.formats.set_file import save_set

        drums = {entry.id: entry.drum for entry in self._bench.document.workshop.entries}
        save_set(path, kit, drums)
        self.notice.emit(_("Saved as {name}.").format(name=path.name), False)
