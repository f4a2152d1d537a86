"""A picture that belongs to an entry of a log."""

from __future__ import annotations

from PySide6.QtCore import QBuffer, QByteArray, QRectF, QSize, Qt
from PySide6.QtGui import QImage, QImageReader, QPainter
from PySide6.QtWidgets import QDialogButtonBox, QVBoxLayout, QWidget

from kesselton.core.errors import InputError
from kesselton.core.language import _
from kesselton.ui.parts.widgets.dialogs import Dialog, size_dialog
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.picture import Picture, hint
from kesselton.ui.parts.widgets.safe_override import safe_override

MOST_PIXELS = 100_000_000


class PhotoPicture(Picture):
    """A picture as large as fits."""

    def __init__(self, name: str, image: QImage) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.image = image
        self.setMinimumSize(200, 150)

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(720, 480)

    def _paint(self, p: QPainter) -> None:
        size = self.image.size().scaled(self.size(), Qt.AspectRatioMode.KeepAspectRatio)
        left, top = (self.width() - size.width()) / 2, (self.height() - size.height()) / 2
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        p.drawImage(QRectF(left, top, size.width(), size.height()), self.image)


def image_of(name: str, content: bytes) -> QImage:
    """The image in a file.

    Raises
    ------
    InputError
        If there is none, or it is too large to be shown.
    """
    buffer = QBuffer()
    buffer.setData(QByteArray(content))
    buffer.open(QBuffer.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    reader.setAutoTransform(True)
    size = reader.size()
    if size.width() * size.height() > MOST_PIXELS:
        raise InputError(
            _("{name} is too large to show.").format(name=name), _("Attach a smaller version.")
        )
    image = reader.read()
    if image.isNull():
        raise InputError(
            _("{name} cannot be shown: it is damaged.").format(name=name), _("Attach it again.")
        )
    return image


class PictureDialog(Dialog):
    """One picture.

    Raises
    ------
    InputError
        If it cannot be shown.
    """

    def __init__(self, name: str, content: bytes, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(name)
        self.picture = PhotoPicture(name, image_of(name, content))
        buttons = QDialogButtonBox()
        close = Button(_("Close"))
        buttons.addButton(close, QDialogButtonBox.ButtonRole.RejectRole)
        buttons.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.addWidget(self.picture, 1)
        layout.addWidget(buttons)
        size_dialog(self, 760, 560)
