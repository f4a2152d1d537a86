"""The program speaks a language it has been translated into, and English without."""

from __future__ import annotations

from collections.abc import Iterator
from gettext import NullTranslations
from pathlib import Path

import pytest
from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po
from tools.messages import TEMPLATE, extracted

from kesselton.app.host import locale_choice
from kesselton.app.workshop.workshops import demo_season, demo_workshop
from kesselton.core import language
from kesselton.core.instrument.drum import KINDS
from kesselton.core.instrument.shell import EDGES
from kesselton.core.pitch import interval_name, note_of
from kesselton.store.formats.log_file import as_csv


@pytest.fixture
def german(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """A catalog of a few words, as `tools.messages compile` writes them."""
    made = Catalog(locale="de")
    for text, said in (
        ("tom", "Tom"),
        ("sharp", "scharf"),
        ("a fourth", "eine Quarte"),
        ("{interval} and {cents} cents", "{interval} und {cents} Cent"),
    ):
        made.add(text, said)
    made.add(
        ("{count} cent sharp", "{count} cents sharp"), ("{count} Cent hoch", "{count} Cents hoch")
    )
    folder = tmp_path / "de" / "LC_MESSAGES"
    folder.mkdir(parents=True)
    with (folder / "kesselton.mo").open("wb") as stream:
        write_mo(stream, made)
    monkeypatch.setattr(locale_choice, "resource", lambda name: tmp_path)
    yield
    language.use(NullTranslations())


def test_tables_sentences_and_counts_are_said_in_the_language_in_use(german: None) -> None:
    assert KINDS["tom"] == "tom"
    assert locale_choice.speak(["de_AT", "de"])
    assert KINDS["tom"] == "Tom"
    assert ("tom", "Tom") in KINDS.items()
    assert KINDS.get("tom") == "Tom"
    assert EDGES["sharp"].label == "scharf"
    assert interval_name(520.0) == "eine Quarte und 20 Cent"
    assert note_of(440.5).deviation() == "2 Cents hoch"
    assert KINDS["bass"] == "bass drum"  # not translated: better than nothing
    assert not locale_choice.speak(["en"])
    assert KINDS["tom"] == "tom"


def test_the_template_for_translators_holds_every_message() -> None:
    """Made by `python -m tools.messages extract`."""
    with TEMPLATE.open("rb") as stream:
        shipped = read_po(stream)
    assert {(one.id, one.context) for one in shipped} == {
        (one.id, one.context) for one in extracted()
    }


def test_files_are_the_same_in_every_language(german: None) -> None:
    drums, season = demo_workshop(), demo_season().entries[1].kept
    table = as_csv(season)
    assert locale_choice.speak(["de"])
    assert demo_workshop() == drums
    assert as_csv(season) == table
