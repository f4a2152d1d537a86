"""A watch on the binding: requirements/run.in says which version it keeps out."""

from __future__ import annotations


def test_signals_carry_many_booleans(qapp: object) -> None:
    """PySide6 6.12 on CPython 3.11 aborts after some hundreds of emit(True)."""
    from PySide6.QtCore import QObject, Signal

    class Source(QObject):
        told = Signal(bool)

    source, heard = Source(), []
    source.told.connect(heard.append)
    for _ in range(5000):
        source.told.emit(True)
    assert len(heard) == 5000
