"""A disk that is full, a link that was planted, a file that was there: nothing is half written."""

from __future__ import annotations

import os
import resource
import stat
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import date, datetime
from pathlib import Path

import numpy as np
import pytest

from kesselton.app.bench.fitting import procedure
from kesselton.app.host.settings import save_settings
from kesselton.app.prediction.predictor import Question, answer
from kesselton.core.errors import KesseltonError
from kesselton.core.fit.procedure import Choices, Procedure
from kesselton.core.fit.schedule import dates
from kesselton.core.heads.buying import buy_list
from kesselton.core.instrument.beater import Stroke
from kesselton.core.prediction.render import Sound
from kesselton.store.exports.buy_file import write_buy_csv
from kesselton.store.exports.calendar_file import write_calendar
from kesselton.store.exports.sound_file import write_sound
from kesselton.store.formats.drum_file import save_drum
from kesselton.store.io.atomic_file import write_file
from tests.conftest import make_drum

NOW = datetime(2026, 11, 26, 12, 0)


@contextmanager
def full_disk(room: int = 100) -> Iterator[None]:
    """Files may not grow past so many bytes: the system says so as it does of a full disk."""
    before = resource.getrlimit(resource.RLIMIT_FSIZE)
    resource.setrlimit(resource.RLIMIT_FSIZE, (room, before[1]))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, before)


def sound(path: Path) -> None:
    write_sound(path, Sound(0.1 * np.ones(4800), 48000, False))


def steps() -> Procedure:
    return procedure(make_drum(), "batter", Choices(), None, 440.0, False)


def fit_pdf(path: Path) -> None:
    from kesselton.ui.printing.fit_sheet import write_fit_pdf

    drum = make_drum()
    write_fit_pdf(path, steps(), drum, "t", "w", date.today(), None)


def fit_markdown(path: Path) -> None:
    from kesselton.ui.printing.fit_sheet import write_markdown

    write_markdown(path, steps(), "t", None)


def buy_pdf(path: Path) -> None:
    from kesselton.ui.heads.buy_dialog import write_buy_pdf

    write_buy_pdf(path, buy_list([make_drum()], lambda name, size: 0), "w", date.today())


def tuning_pdf(path: Path) -> None:
    from kesselton.ui.printing.sheet import Sheet, write_pdf

    result = answer(Question(1, make_drum(), Stroke()))
    write_pdf(path, Sheet(result, "w", 440.0, False, True, date.today(), None))


WRITERS: dict[str, Callable[[Path], None]] = {
    "a.json": lambda path: save_drum(make_drum(), path),
    "a.wav": sound,
    "a.flac": sound,
    "a.csv": lambda path: write_buy_csv(path, buy_list([make_drum()], lambda name, size: 0)),
    "a.ics": lambda path: write_calendar(path, dates(make_drum(), "batter", NOW), "d", NOW),
    "a.md": fit_markdown,
    "fit.pdf": fit_pdf,
    "buy.pdf": buy_pdf,
    "tuning.pdf": tuning_pdf,
}


@pytest.mark.usefixtures("qapp")
@pytest.mark.parametrize("name", list(WRITERS))
def test_what_leaves_the_program_is_whole_or_not_there(name: str, tmp_path: Path) -> None:
    folder = tmp_path / "out"
    folder.mkdir()
    path, write = folder / name, WRITERS[name]
    with full_disk(), pytest.raises(KesseltonError, match="cannot be written"):
        write(path)
    assert list(folder.iterdir()) == []
    path.write_bytes(b"before")
    with full_disk(), pytest.raises(KesseltonError) as caught:
        write(path)
    assert "Nothing was changed" in caught.value.remedy
    assert path.read_bytes() == b"before"
    mine = path.with_name(name + ".part")
    mine.write_bytes(b"mine")
    write(path)
    assert mine.read_bytes() == b"mine"
    assert sorted(folder.iterdir()) == sorted([path, mine])
    whole = path.read_bytes()
    assert len(whole) > 100
    if path.suffix == ".pdf":
        assert whole.startswith(b"%PDF")
        assert whole.rstrip().endswith(b"%%EOF")


@pytest.mark.usefixtures("qapp")
@pytest.mark.parametrize("name", list(WRITERS))
def test_a_planted_link_leads_nowhere(name: str, tmp_path: Path) -> None:
    victim = tmp_path / "victim"
    victim.write_bytes(b"mine")
    path = tmp_path / name
    for suffix in (".part", ".tmp"):
        path.with_name(name + suffix).symlink_to(victim)
        path.with_suffix(suffix).unlink(missing_ok=True)
        path.with_suffix(suffix).symlink_to(victim)
    WRITERS[name](path)
    assert victim.read_bytes() == b"mine"
    assert not path.is_symlink()


def test_settings_are_written_whole_too(tmp_path: Path) -> None:
    path = tmp_path / "settings.json"
    victim = tmp_path / "victim"
    victim.write_bytes(b"mine")
    path.with_suffix(".part").symlink_to(victim)
    save_settings({"metric": True}, path)
    assert victim.read_bytes() == b"mine"
    before = path.read_bytes()
    with full_disk(10), pytest.raises(KesseltonError, match="settings cannot be saved"):
        save_settings({"metric": False}, path)
    assert path.read_bytes() == before


def test_links_modes_and_devices_are_as_users_expect(tmp_path: Path) -> None:
    target, link = tmp_path / "real.csv", tmp_path / "link.csv"
    target.write_bytes(b"old")
    target.chmod(0o640)
    link.symlink_to(target)
    write_file(link, b"new")
    assert target.read_bytes() == b"new"
    assert link.is_symlink()
    assert stat.S_IMODE(target.stat().st_mode) == 0o640
    before = os.umask(0o027)
    try:
        write_file(tmp_path / "fresh", b"x")
    finally:
        os.umask(before)
    assert stat.S_IMODE((tmp_path / "fresh").stat().st_mode) == 0o640
    with pytest.raises(KesseltonError, match="No space left"):
        write_file(Path("/dev/full"), b"x")
    with pytest.raises(KesseltonError, match="directory"):
        write_file(tmp_path, b"x")
    with pytest.raises(KesseltonError, match="No such file"):
        write_file(tmp_path / "nowhere" / "a", b"x")
    write_file(tmp_path / ("ü" * 120), b"x")  # a name as long as there can be
