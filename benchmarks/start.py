"""Cold start in a process of its own: prints CPU seconds to rack, to ladder, and of eager imports."""

import os
import time

os.environ["OPENBLAS_NUM_THREADS"] = "1"
begun = time.process_time()
from PySide6.QtWidgets import QApplication

from kesselton.app.host.settings import SettingsStore
from kesselton.ui.parts.widgets import theme

app = QApplication([])
theme.load_fonts()
from kesselton.ui.window.start import open_window

window = open_window("demo", SettingsStore())
window.bench.predictor.hold()
app.processEvents()
window.drum_list.grab()
drum_list = time.process_time() - begun
window.bench.predictor.go()
while window.result is None:
    app.processEvents()
    time.sleep(0.002)
window.tuning.ladder.grab()
ladder = time.process_time() - begun
window.close()

import subprocess
import sys

eager = (
    "import time; t = time.process_time(); import numpy, scipy.special, scipy.linalg,"
    " scipy.optimize, scipy.signal, jsonschema; print(time.process_time() - t)"
)
done = subprocess.run([sys.executable, "-c", eager], capture_output=True, text=True, check=True)
print(drum_list, ladder, drum_list + float(done.stdout))
