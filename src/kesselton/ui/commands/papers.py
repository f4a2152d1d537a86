"""What leaves the program on paper or as a file: tuning sheet, fitting sheet, dates."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog

from kesselton.core.language import _
from kesselton.store.io.atomic_file import with_suffix
from kesselton.ui.commands.group import CommandGroup, guarded

if TYPE_CHECKING:
    from kesselton.ui.fit.fit_page import FitPage
    from kesselton.ui.printing.sheet import Sheet


class Papers(CommandGroup):
    """Writes and prints for one window."""

    def _sheet(self) -> Sheet:
        """What the tuning sheet of the drum on the bench shows."""
        from kesselton.ui.printing.sheet import Sheet

        bench, settings = self._bench, self._bench.settings
        assert bench.settled is not None
        return Sheet(
            bench.settled,
            bench.document.workshop.name,
            settings.a4_hz,
            settings.flats,
            settings.metric,
            date.today(),
            bench.plan,
        )

    def _once_settled(self, run: Callable[[], None]) -> None:
        """Do it for the drum as it is set, once that is worked out."""
        if self._bench.drum is not None and not self._bench.when_settled(run):
            self.notice.emit(_("Still computing; the sheet follows."), False)

    def sheet_pdf(self) -> None:
        """Write the tuning sheet of the drum on the bench, as it is set."""
        self._once_settled(self._write_sheet)

    def _write_sheet(self) -> None:
        from kesselton.ui.printing.sheet import write_pdf

        sheet = self._sheet()
        name = _("{name} tuning.pdf").format(name=sheet.result.drum.name)
        path = self._asking.save(_("Tuning sheet"), name, _("PDF (*.pdf)"))
        if path is not None:
            path = with_suffix(path, ".pdf")
            with guarded(self.told):
                write_pdf(path, sheet)
                self._say_written(path)

    def sheet_print(self) -> None:
        """Print the tuning sheet."""
        self._once_settled(self._print_sheet)

    def _print_sheet(self) -> None:
        from PySide6.QtPrintSupport import QPrintDialog, QPrinter

        from kesselton.ui.printing.sheet import print_sheet, write_pdf

        sheet = self._sheet()
        printer = QPrinter()
        if QPrintDialog(printer, self._parent).exec() != QDialog.DialogCode.Accepted:
            return
        with guarded(self.told):
            if printer.outputFileName():  # a PDF: written as those we write ourselves
                path = with_suffix(Path(printer.outputFileName()), ".pdf")
                write_pdf(path, sheet)
                self._say_written(path)
            else:
                print_sheet(printer, sheet)

    def sheet_preview(self) -> None:
        """Show the tuning sheet as it would be printed."""
        self._once_settled(self._preview_sheet)

    def _preview_sheet(self) -> None:
        from PySide6.QtPrintSupport import QPrinter, QPrintPreviewDialog

        from kesselton.ui.printing.sheet import print_sheet

        sheet = self._sheet()

        def paint(printer: QPrinter) -> None:
            with guarded(self.told):
                print_sheet(printer, sheet)

        self._previewed = QPrinter()  # the dialog does not keep it
        preview = QPrintPreviewDialog(self._previewed, self._parent)
        preview.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        preview.paintRequested.connect(paint)
        preview.open()

    def _say_written(self, path: Path) -> None:
        self.notice.emit(_("Saved: {path}").format(path=path), False)

    def fitting_sheet(self, fit: FitPage) -> None:
        """Write the steps of fitting a head as PDF or Markdown."""
        from kesselton.ui.fit.fit_page import title_of
        from kesselton.ui.printing.fit_sheet import write_fit_pdf, write_markdown

        document, procedure = self._bench.document, fit.procedure
        if document.drum is None or procedure is None:
            return
        title = title_of(document.drum, fit.side_now)
        path = self._asking.save(
            _("Fitting sheet"), f"{title}.pdf".replace(":", ""),
            _("PDF (*.pdf);;Markdown (*.md)"),
        )  # fmt: skip
        if path is None:
            return
        path = path if path.suffix == ".md" else with_suffix(path, ".pdf")
        with guarded(self.told):
            if path.suffix == ".md":
                write_markdown(path, procedure, title, fit.fitting)
            else:
                write_fit_pdf(
                    path, procedure, document.drum, title, document.workshop.name, date.today(),
                    fit.fitting,
                )  # fmt: skip
            self._say_written(path)

    def calendar(self, fit: FitPage) -> None:
        """Write the dates that follow from fitting a head."""
        from kesselton.core.fit.schedule import dates
        from kesselton.store.exports.calendar_file import write_calendar
        from kesselton.ui.fit.fit_page import fitted_at

        entry = self._bench.entry
        if entry is None:
            return
        path = self._asking.save(
            _("Calendar dates"),
            f"{entry.drum.name}.ics",
            _("Calendar (*.ics)"),
        )
        if path is None:
            return
        now = datetime.now()
        results = dates(entry.drum, fit.side_now, fitted_at(fit.fitting, now), entry.brief)
        path = with_suffix(path, ".ics")
        with guarded(self.told):
            write_calendar(path, results, entry.drum.name, now)
            self._say_written(path)
