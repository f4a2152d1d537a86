"""Takes messages out of the source, and compiles what translators made of them.

    python -m tools.messages extract     writes src/kesselton/resources/locale/kesselton.pot
    python -m tools.messages update      brings LANGUAGE/LC_MESSAGES/kesselton.po up to it
    python -m tools.messages compile     writes kesselton.mo beside each
    python -m tools.messages check       says what is not translated

Messages stand in Python where they are shown, and in the JSON of procedures and head constructions.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Iterator
from datetime import UTC, datetime
from io import BytesIO
from pathlib import Path
from typing import Any

from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

SOURCE = Path(__file__).parents[1] / "src" / "kesselton"
LOCALE = SOURCE / "resources" / "locale"
TEMPLATE = LOCALE / "kesselton.pot"
KEYWORDS: dict[str, Any] = {"_": None, "N_": None, "ngettext": (1, 2), "pgettext": ((1, "c"), 2)}
IN_STEPS = ("title", "text", "after")
RELEASED = datetime(2026, 12, 1, tzinfo=UTC)
"""Stands in the template: made again, it is the same."""


def extracted() -> Catalog:
    """Every message of the program."""
    made = Catalog(
        project="Kesselton",
        version="0.1.0",
        header_comment="# Messages of Kesselton, under the same license as the program.",
        copyright_holder="the contributors to Kesselton",
        msgid_bugs_address="see CONTRIBUTING.md",
        last_translator="nobody yet",
        language_team="see CONTRIBUTING.md",
        creation_date=RELEASED,
        revision_date=RELEASED,
        charset="utf-8",
        fuzzy=False,
    )
    for file, _line, message, comments, context in extract_from_dir(
        SOURCE, [("**.py", "python")], keywords=KEYWORDS, comment_tags=("For translators:",)
    ):
        made.add(message, locations=[(file, 0)], auto_comments=comments, context=context)
    for name, message in of_resources():
        made.add(message, locations=[(name, 0)])
    return made


def of_resources() -> Iterator[tuple[str, str]]:
    """Messages in the JSON that ships, with the file each is from."""
    for name in ("procedures/fit.json", "procedures/stage.json"):
        data = json.loads((SOURCE / "resources" / name).read_text())
        texts = [data["name"], *data["cautions"].values()]
        texts += [timer["label"] for timer in data["timers"].values()]
        for step in data["steps"]:
            texts += [step[key] for key in IN_STEPS if step.get(key)]
            texts += [*step.get("tools", ()), *step.get("materials", ())]
            if step.get("ask"):
                texts += [step["ask"]["question"], step["ask"]["otherwise"]]
        yield from ((f"resources/{name}", text) for text in texts if text)
    for made in json.loads((SOURCE / "resources" / "constructions.json").read_text()):
        yield "resources/constructions.json", made["character"]


def written(catalog: Catalog) -> bytes:
    """A catalog as a file."""
    out = BytesIO()
    write_po(out, catalog, width=100, sort_output=True, include_lineno=False)
    return out.getvalue()


def translations() -> list[Path]:
    """What translators made."""
    return sorted(LOCALE.glob("*/LC_MESSAGES/kesselton.po"))


def main(words: list[str]) -> int:
    """Do what is asked; how much is left to do."""
    if words == ["extract"]:
        TEMPLATE.write_bytes(written(extracted()))
    elif words == ["update"]:
        for path in translations():
            catalog = read_po(path.open("rb"), locale=path.parts[-3])
            catalog.update(extracted(), no_fuzzy_matching=False)
            path.write_bytes(written(catalog))
    elif words == ["compile"]:
        for path in translations():
            with path.with_suffix(".mo").open("wb") as stream:
                write_mo(stream, read_po(path.open("rb"), locale=path.parts[-3]))
    elif words == ["check"]:
        return sum(_left(path) for path in translations())
    else:
        print(__doc__)
        return 2
    return 0


def _left(path: Path) -> int:
    catalog = read_po(path.open("rb"), locale=path.parts[-3])
    left = [one.id for one in catalog if one.id and (one.fuzzy or not one.string)]
    for text in left:
        print(f"{path.parts[-3]}: {text}")
    return len(left)


if __name__ == "__main__":
    sys.exit(min(main(sys.argv[1:]), 100))
