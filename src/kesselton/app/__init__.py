"""Between core and screen: document, undo, jobs, settings. QtCore and QtGui only."""
