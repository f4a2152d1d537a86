"""The menu entry, judged by the desktop's own programs and by another reading of its rules."""

from __future__ import annotations

import re
import shlex
import shutil
import subprocess
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesselton.app.host.desktop import APP_ID, command, exec_word, install


def words_of(value: str) -> list[str]:
    """An Exec value taken apart as the specification says, independently of how it is made."""
    text = re.sub(r"\\(.)", lambda m: {"s": " ", "n": "\n", "t": "\t"}.get(m[1], m[1]), value)
    words, rest = [], text
    while rest:
        if rest.startswith('"'):
            match = re.match(r'"((?:[^"\\`$]|\\.)*)"', rest)
            assert match, rest
            words.append(re.sub(r"\\(.)", r"\1", match[1]))
        else:
            match = re.match(r"[^ \"'\\<>~|&;$*?#()`]+", rest)
            assert match, rest
            words.append(match[0])
        rest = rest[match.end() :].lstrip(" ")
    return [word.replace("%%", "%") for word in words]


paths = st.text(st.characters(codec="utf-8", exclude_categories=["C"]), min_size=1, max_size=30)


@given(paths)
def test_any_path_comes_back_from_the_menu_entry(path: str) -> None:
    assert words_of(f"{exec_word('/opt/' + path)} -m kesselton") == [
        "/opt/" + path,
        "-m",
        "kesselton",
    ]


@pytest.mark.parametrize("folder", ["plain", "separated by spaces", 'a "b" $HOME `x` 100% \\ &'])
def test_what_is_installed_is_valid_and_starts_this_program(
    folder: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    program = tmp_path / folder / "kesselton"
    program.parent.mkdir()
    program.write_text("#!/bin/sh\n")
    program.chmod(0o755)
    monkeypatch.setenv("PATH", f"{program.parent}:/usr/bin:/bin")
    assert command() == [str(program)]
    said = install()
    base = tmp_path / "data"
    entry = base / "applications" / f"{APP_ID}.desktop"
    assert str(entry) in said
    lines = dict(line.split("=", 1) for line in entry.read_text().splitlines() if "=" in line)
    assert words_of(lines["Exec"].removesuffix(" %f")) == [str(program)]
    assert lines["MimeType"] == "application/x-kesselton;"
    assert (base / "icons/hicolor/scalable/mimetypes/application-x-kesselton.svg").exists()
    checks = {
        "desktop-file-validate": [str(entry)],
        "appstreamcli": ["validate", "--no-net", str(base / "metainfo" / f"{APP_ID}.metainfo.xml")],
        "update-mime-database": [str(base / "mime")],
    }
    missing = [name for name in checks if shutil.which(name) is None]
    for name, args in checks.items():
        if name not in missing:
            done = subprocess.run([name, *args], capture_output=True, text=True, check=False)
            assert done.returncode == 0, shlex.join([name, *args]) + done.stdout + done.stderr
            assert name != "desktop-file-validate" or done.stdout == ""
    globs = base / "mime" / "globs2"
    if "update-mime-database" not in missing:
        assert "application/x-kesselton:*.kesselton" in globs.read_text()
    if missing:
        pytest.skip(f"not installed, not asked: {', '.join(missing)}")
