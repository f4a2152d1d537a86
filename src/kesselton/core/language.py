"""The program's words in the language of whoever uses it (gettext).

A sentence is asked for where it is shown, whole, with named gaps: `_("Step {number} of {count}")`.
Tables made when a module is read mark theirs by `N_`, and ask where they are shown.
"""

from __future__ import annotations

from gettext import NullTranslations

_catalogs = [NullTranslations()]
"""The one in use."""


def use(catalog: NullTranslations) -> None:
    """Speak as a catalog does from now on; windows made before keep what they say."""
    _catalogs[0] = catalog


def _(message: str) -> str:
    """A message in the language in use; itself where that has none."""
    return _catalogs[0].gettext(message) if message else ""


def ngettext(one: str, many: str, count: int) -> str:
    """The form of a message for a count."""
    return _catalogs[0].ngettext(one, many, count)


def pgettext(context: str, message: str) -> str:
    """A message that means different things in different places."""
    return _catalogs[0].pgettext(context, message)


def N_(message: str) -> str:
    """Marks a message that is asked for later."""
    return message
