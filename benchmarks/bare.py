"""A bare window with the program's fonts, painted: prints its CPU seconds from a cold process."""

import time

begun = time.process_time()
from importlib.util import find_spec
from pathlib import Path

from PySide6.QtGui import QFont, QFontDatabase
from PySide6.QtWidgets import QApplication, QLabel, QMainWindow

app = QApplication([])
fonts = Path(find_spec("kesselton").origin).parent / "resources" / "fonts"
for name in ("Inter-Regular.otf", "Inter-Medium.otf", "Inter-SemiBold.otf", "Inter-Bold.otf",
             "DejaVuSans.ttf"):  # fmt: skip
    QFontDatabase.addApplicationFont(str(fonts / name))
font = QFont()
font.setFamilies(["Inter", "DejaVu Sans"])
app.setFont(font)
app.setStyle("Fusion")
window = QMainWindow()
window.setCentralWidget(QLabel("F♯3 46 cents flat ½ ¼ ⅛ ″"))
window.resize(1280, 800)
window.show()
app.processEvents()
window.grab()
print(time.process_time() - begun)
