"""The program's words in the language of whoever uses it (gettext).

A sentence is asked for where it is shown, whole, with named gaps: `_("Step {number} of {count}")`.
Tables made when a module is read mark theirs by `N_`, and ask where they are shown.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from gettext import NullTranslations
from typing import Any, TypeVar

K = TypeVar("K")
C = TypeVar("C")
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


def both(words: Sequence[str]) -> str:
    """Two words or more, joined: "a and b"."""
    said = words[0] if words else ""
    for word in words[1:]:
        said = _("{first} and {second}").format(first=said, second=word)
    return said


def each(messages: Iterable[str]) -> tuple[str, ...]:
    """Messages of a table marked by `N_`, in the language in use."""
    return tuple(_(message) for message in messages)


def choices(pairs: Iterable[tuple[K, str]]) -> tuple[tuple[K, str], ...]:
    """The same of keys and messages."""
    return tuple((key, _(message)) for key, message in pairs)


class Worded(dict[K, str]):
    """Words by key; whoever looks gets them in the language in use.

    Made with messages marked by `N_`.
    """

    def __getitem__(self, key: K) -> str:
        return _(super().__getitem__(key))

    def get(self, key: K, default: str = "") -> str:  # type: ignore[override]
        """The words for a key, or what is said without any, as it is."""
        message = super().get(key)
        return default if message is None else _(message)

    def values(self) -> list[str]:  # type: ignore[override]
        """The words, in their order."""
        return list(each(super().values()))

    def items(self) -> list[tuple[K, str]]:  # type: ignore[override]
        """Keys and words, in their order."""
        return list(choices(super().items()))


class _Text:
    """An attribute that holds a message and is read in the language in use."""

    def __init__(self, name: str) -> None:
        self._name = name

    def __get__(self, owner: object, of: type | None = None) -> Any:
        return self if owner is None else _(vars(owner)[self._name])

    def __set__(self, owner: object, message: str) -> None:
        vars(owner)[self._name] = message


def worded(*names: str) -> Callable[[type[C]], type[C]]:
    """These attributes of a dataclass hold messages marked by `N_`."""

    def apply(made: type[C]) -> type[C]:
        for name in names:
            setattr(made, name, _Text(name))
        return made

    return apply
