"""The settings sheet: one page to lie beside the drum."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QMarginsF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPageLayout, QPageSize, QPainter, QPdfWriter, QPen

from kesselton.app.predictor import BenchResult
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.drum import HOOPS
from kesselton.core.instrument.library import shell_band
from kesselton.core.measuring.plan import bed_pattern, rounds
from kesselton.core.pitch import cents_between, interval_name, note_of
from kesselton.ui.parts import wording
from kesselton.ui.parts.result_rows import range_rows, summary_rows
from kesselton.ui.parts.section_picture import paint_section
from kesselton.ui.parts.theme import LIGHT, font

if TYPE_CHECKING:
    from PySide6.QtPrintSupport import QPrinter

    from kesselton.app.measuring import Planned

RESOLUTION = 96
ROUND, MIN_TURN = 0.25, 1.0 / 16.0
WIDTH, HEIGHT = 698.0, 1026.0  # A4 less margins, at 96 dots an inch
CAUTION = (
    "A rod, hoop or rope under load can let go: never over the face, never beyond the maker's "
    "limit. Tune by small turns, in pairs across the drum."
)


@dataclass(frozen=True, eq=False)
class Sheet:
    """What a settings sheet shows, and how."""

    result: BenchResult
    workshop: str
    a4_hz: float
    flats: bool
    metric: bool
    on: date
    plan: Planned | None = None


def paint_sheet(p: QPainter, sheet: Sheet) -> None:
    """Paint the sheet on a page of WIDTH x HEIGHT."""
    result, a4_hz, flats, metric = sheet.result, sheet.a4_hz, sheet.flats, sheet.metric
    c, drum, found = LIGHT, result.drum, result.prediction
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink, soft = QColor(c.ink), QColor(c.soft_ink)

    def text(
        x: float,
        y: float,
        what: str,
        points: float,
        weight: QFont.Weight,
        colour: QColor,
        width: float = WIDTH,
        flag: Qt.AlignmentFlag = Qt.AlignmentFlag.AlignLeft,
    ) -> None:
        p.setPen(colour)
        p.setFont(font(points, weight))
        p.drawText(QRectF(x, y, width, points * 2.2), flag | Qt.AlignmentFlag.AlignTop, what)

    plain, bold = QFont.Weight.Normal, QFont.Weight.Bold
    text(0, 0, drum.name, 24, bold, ink, 480)
    text(0, 8, sheet.workshop, 10, plain, soft, WIDTH, Qt.AlignmentFlag.AlignRight)
    text(0, 24, sheet.on.isoformat(), 10, plain, soft, WIDTH, Qt.AlignmentFlag.AlignRight)
    shell = drum.shell
    text(
        0,
        44,
        f"{wording.size_words(drum, metric)} · {shell.rods} "
        f"{drum.rod_word}s · {HOOPS[shell.hoop].label} hoops · "
        f"{drum.air.temperature_c:g} °C · A4 = {a4_hz:g} Hz",
        10,
        plain,
        soft,
    )
    _rule(p, 70)
    box = QRectF(0, 84, 270, 200)
    scale = min(200 / shell.head_diameter_m, 150 / max(shell.depth_m, 0.05))
    paint_section(p, box, drum, c, scale)
    note = note_of(found.fundamental_hz, a4_hz)
    index = found.partials.fundamental
    text(310, 88, "The drum will sound", 10, plain, soft)
    text(310, 104, note.name(flats), 44, bold, ink, 200)
    text(
        310,
        184,
        f"{note.deviation()}, {wording.hz_words(found.fundamental_hz)} "
        f"± {found.uncertainty_cents[index]:.0f} cents",
        11,
        plain,
        ink,
    )
    text(
        310,
        206,
        "rings "
        f"{wording.decay_words(float(found.partials.t60_s[index]), float(found.t60_error[index]))}"
        " to −60 dB",
        11,
        plain,
        ink,
    )
    if len(drum.sides) == 2:
        cents = cents_between(*found.lug_pitches_hz)
        higher = wording.side_word(drum, "resonant" if cents > 0 else "batter").lower()
        tail = f", {higher} higher" if abs(cents) >= 50 else ""
        text(310, 228, f"head to head: {interval_name(cents)}{tail}", 11, plain, ink)
    y = 306.0
    _rule(p, y - 8)
    column = 270.0
    for place, side in enumerate(drum.sides):
        x = 150 + place * column
        text(x, y, wording.side_word(drum, side), 13, bold, ink, column)
        text(x, y + 24, drum.setting(side).head.name, 10, plain, soft, column)
    y += 56
    for row in summary_rows(result, a4_hz, flats, sheet.plan):
        large = row.caption == "lug pitch"
        text(0, y + (14 if large else 0), row.caption, 10, plain, soft, 150)
        for place, value in enumerate(row.values):
            text(150 + place * column, y, value, 26 if large else 12, bold, ink, column)
        y += 50 if large else 27
    text(
        0,
        y,
        "Lug pitch: tap 25 mm (1 in) from the edge at each rod, the other head muted.",
        9,
        plain,
        soft,
    )
    y += 24
    _rule(p, y)
    y += 10
    for row in range_rows(result, a4_hz, flats):
        text(0, y, f"{row.caption} pitch", 10, plain, soft, 150)
        for place, value in enumerate(row.values):
            text(150 + place * column, y, value, 11, plain, ink, column)
        y += 22
    for line in advice_lines(sheet):
        p.setPen(soft)
        p.setFont(font(9))
        box = QRectF(0, y, WIDTH, 60)
        used = p.boundingRect(box, Qt.TextFlag.TextWordWrap, line)
        p.drawText(box, Qt.TextFlag.TextWordWrap, line)
        y += used.height() + 2
    y += 6
    _rule(p, y)
    y += 8
    for x, head in zip((0, 150, 270, 390, 500, 610), _PARTIAL_COLUMNS, strict=True):
        text(x, y, head, 9, plain, soft, 150)
    y += 18
    names = (wording.side_word(drum, "batter"), wording.side_word(drum, "resonant"))
    fits = int((HEIGHT - 58 - y) / 19)
    for i in range(min(10, fits, len(found.partials))):
        q = found.partials
        cells = (
            _partial_name(int(q.order[i]), int(q.rank[i]), str(q.branch[i])),
            wording.hz_words(float(q.frequency_hz[i])),
            wording.note_words(float(q.frequency_hz[i]), a4_hz, flats),
            wording.seconds_words(float(q.t60_s[i])),
            f"{found.levels_db[i]:.0f} dB".replace("-", "−"),
            _carrier(float(q.batter_share[i]), str(q.branch[i]), names),
        )
        for x, cell in zip((0, 150, 270, 390, 500, 610), cells, strict=True):
            text(x, y, cell, 10, plain, ink, 150)
        y += 19
    _rule(p, HEIGHT - 52)
    p.setPen(soft)
    p.setFont(font(9))
    p.drawText(
        QRectF(0, HEIGHT - 44, WIDTH, 44),
        Qt.TextFlag.TextWordWrap,
        f"{CAUTION} Every room is new: the sheet is a start, not a prescription. "
        "Intervals hold nine times in ten, on assumed tolerances.",
    )


def advice_lines(sheet: Sheet) -> list[str]:
    """Every limit with its doubt, rounds of turns, the school of lower rods beside snare beds."""
    result, drum = sheet.result, sheet.result.drum
    lines = []
    for found in result.ranges:
        name = wording.side_word(drum, found.side)
        parts = [
            f"{limit.label} {limit.tension_n_per_m:.0f} ± {100 * limit.sure:.0f} %"
            for limit in (*found.lower, *found.upper)
        ]
        lines.append(f"{name}, limits in N/m: {'; '.join(parts)}.")
    if sheet.plan is not None and drum.kind != "rope":
        texts = []
        for plan in sheet.plan.heads:
            steps = rounds(plan.turns.value, ROUND)
            whole = sum(1 for step in steps if abs(step - ROUND) < 1e-9)
            left = steps[-1] if len(steps) > whole else 0.0
            rest = f" and {wording.turn_words(left)}" if left >= MIN_TURN else ""
            side = wording.side_word(drum, plan.side).lower()
            texts.append(f"{side} {whole} × ¼{rest}")
        lines.append(
            f"From finger tight, every rod by the same small turn: {', '.join(texts)}; check after "
            "each round. New heads go on stretching: look again after a day."
        )
    if drum.kind == "snare" and drum.resonant is not None and drum.shell.rods >= 6:
        pattern = bed_pattern(drum.shell.rods)
        low = [str(i + 1) for i, share in enumerate(pattern) if share < 1.0]
        down = abs(0.5 * cents_between(1.0, min(pattern)))
        up = 0.5 * cents_between(1.0, max(pattern))
        lines.append(
            f"Snare side, one school: rods {', '.join(low)} beside the beds {down:.0f} cents "
            f"lower, the others {up:.0f} higher; the other sets it evenly."
        )
    if drum.kind == "tom" and drum.shell.shell_note_hz:
        low_hz, high_hz = shell_band(drum.shell.shell_note_hz)
        lines.append(
            f"Shell note, one school: between {note_of(low_hz, sheet.a4_hz).name(sheet.flats)} and "
            f"{note_of(high_hz, sheet.a4_hz).name(sheet.flats)}; the other finds the sweet range "
            "by ear."
        )
    return lines


_PARTIAL_COLUMNS = ("partial", "frequency", "note", "rings", "level", "carried by")


def _partial_name(order: int, rank: int, branch: str) -> str:
    if branch == "air":
        return "air in the shell"
    return f"({order},{rank})" if branch == "single" else f"({order},{rank}) {branch}"


def _carrier(share: float, branch: str, names: tuple[str, str]) -> str:
    if branch == "air":
        return "air"
    if 0.2 < share < 0.8:
        return "both"
    return names[0 if share > 0.5 else 1].lower()


def _rule(p: QPainter, y: float) -> None:
    p.setPen(QPen(QColor(LIGHT.line), 1))
    p.drawLine(QRectF(0, y, WIDTH, 0).topLeft(), QRectF(0, y, WIDTH, 0).topRight())


def check_writable(path: Path) -> None:
    """Raise KesseltonError if a place cannot be written: Qt's writer would not say."""
    try:
        with path.open("ab"):
            pass
    except OSError as error:
        raise KesseltonError(
            f"{path.name} cannot be written: {error.strerror}.", "Choose another place."
        ) from None


def a4_writer(path: Path, title: str) -> QPdfWriter:
    """A PDF of A4 pages to paint on.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    check_writable(path)
    writer = QPdfWriter(str(path))
    writer.setTitle(title)
    writer.setResolution(RESOLUTION)
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    writer.setPageMargins(QMarginsF(12.7, 12.7, 12.7, 12.7), QPageLayout.Unit.Millimeter)
    return writer


def write_pdf(path: Path, sheet: Sheet) -> None:
    """Write the sheet as a vector PDF.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    writer = a4_writer(path, f"{sheet.result.drum.name}: settings")
    painter = QPainter(writer)
    try:
        paint_sheet(painter, sheet)
    finally:
        painter.end()


def print_sheet(printer: QPrinter, sheet: Sheet) -> None:
    """Print the sheet on whatever paper the printer holds.

    Raises
    ------
    KesseltonError
        If the printer does not answer.
    """
    from PySide6.QtPrintSupport import QPrinter

    printer.setResolution(RESOLUTION)  # text is set in points: a finer grid would blow it up twice
    painter = QPainter()
    if not painter.begin(printer):
        raise KesseltonError("The printer does not answer.", "Save the sheet as PDF instead.")
    try:
        page = printer.pageRect(QPrinter.Unit.DevicePixel)
        scale = min(page.width() / WIDTH, page.height() / HEIGHT)
        painter.scale(scale, scale)
        paint_sheet(painter, sheet)
    finally:
        painter.end()
