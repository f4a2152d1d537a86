"""The language the program speaks: the desktop's, if somebody has translated it."""

from __future__ import annotations

import gettext
from collections.abc import Sequence

from kesselton.core import language
from kesselton.core.language import Figures
from kesselton.resources import resource

DOMAIN = "kesselton"


def speak(wanted: Sequence[str] | None = None) -> bool:
    """Speak the first of some languages ("de_AT", "es"; None: what the environment asks for) that
    there is a catalog for; whether there is one. English needs none."""
    catalogue = gettext.translation(
        DOMAIN, resource("locale"), None if wanted is None else list(wanted), fallback=True
    )
    if not isinstance(catalogue, gettext.GNUTranslations):
        language.use(catalogue)
        return False
    from babel import Locale

    named = catalogue.info().get("language", "en")
    signs = Locale.parse(named).number_symbols["latn"]
    language.use(catalogue, Figures(named, signs["decimal"], signs["group"]))
    return True
