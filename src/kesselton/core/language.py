"""The program's words in the language of whoever uses it (gettext).

A sentence is asked for where it is shown, whole, with named gaps: `_("Step {number} of {count}")`.
Tables made when a module is read mark theirs by `N_`, and ask where they are shown. Numbers in gaps
are written as the language writes them: decimal sign, thousands, minus.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from gettext import NullTranslations
from typing import Any, TypeVar

K = TypeVar("K")
C = TypeVar("C")


@dataclass(frozen=True)
class Figures:
    """How a language writes numbers, and its own tag ("de_AT")."""

    tag: str = "en"
    decimal: str = "."
    thousands: str = ","
    minus: str = "\N{MINUS SIGN}"

    def written(self, figures: str) -> str:
        """A number as Python writes it, in this language."""
        signs = {ord("."): self.decimal, ord(","): self.thousands}
        size = figures.removeprefix("-").translate(signs)
        return f"{self.minus}{size}" if figures.startswith("-") else size


_catalogs = [NullTranslations()]
_figures = [Figures()]
"""The ones in use."""


def use(catalog: NullTranslations, figures: Figures | None = None) -> None:
    """Speak and write numbers as a language does from now on, English if no figures are given;
    windows made before keep what they say."""
    _catalogs[0] = catalog
    _figures[0] = figures or Figures()


def tag() -> str:
    """Of the language in use: "en", "de_AT"."""
    return _figures[0].tag


def figures(value: float, form: str) -> str:
    """A number in the language in use, in a form of Python's (".1f").

    >>> figures(-1234.5, ",.1f")
    '−1,234.5'
    """
    return _figures[0].written(format(value, form))


class _Float(float):
    def __format__(self, form: str) -> str:
        return _figures[0].written(float.__format__(self, form))


class _Int(int):
    def __format__(self, form: str) -> str:
        return _figures[0].written(int.__format__(self, form))


def _written(value: object) -> object:
    if isinstance(value, float):
        return _Float(value)
    if type(value) is int:
        return _Int(value)
    return value


class _Gaps(str):
    """A message with gaps."""

    __slots__ = ()

    def format(self, *values: object, **named: object) -> str:
        return str.format(
            self, *map(_written, values), **{key: _written(value) for key, value in named.items()}
        )


def _with_gaps(message: str) -> str:
    return _Gaps(message) if "{" in message else message


def _(message: str) -> str:
    """A message in the language in use; itself where that has none."""
    return _with_gaps(_catalogs[0].gettext(message)) if message else ""


def ngettext(text: str, many: str, count: int) -> str:
    """The form of a message for a count."""
    return _with_gaps(_catalogs[0].ngettext(text, many, count))


def pgettext(context: str, message: str) -> str:
    """A message that means different things in different places."""
    return _with_gaps(_catalogs[0].pgettext(context, message))


def N_(message: str) -> str:
    """Marks a message that is asked for later."""
    return message


def begin(text: str) -> str:
    """A text as it stands where a sentence begins.

    >>> begin("rod 5")
    'Rod 5'
    """
    return text[:1].upper() + text[1:]


def both(words: Sequence[str]) -> str:
    """Two words or more, joined: "a and b"."""
    message = words[0] if words else ""
    for word in words[1:]:
        message = _("{first} and {second}").format(first=message, second=word)
    return message


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

    def apply(result: type[C]) -> type[C]:
        for name in names:
            setattr(result, name, _Text(name))
        return result

    return apply
