"""Normal forms of a token and of a whole text."""

from __future__ import annotations

import unicodedata

_SAME = str.maketrans({"’": "'", "ʼ": "'", "\u2010": "-", "\u2011": "-", "\u00ad": None, "\ufe0f": None})


def fold(token: str) -> str:
    """The form that counting compares when case is ignored: typographic apostrophes become plain, soft hyphens
    and the signs that choose how an emoji is drawn go, the Turkish capital İ is an i.

    >>> fold("Don’t"), fold("İZMİR"), fold("❤️") == fold("❤")
    ("don't", 'izmir', True)
    """
    if token.isascii():
        return token.lower()
    folded = token.replace("İ", "i").casefold()
    return unicodedata.normalize("NFC", folded).translate(_SAME)


def bare(token: str) -> str:
    """``fold`` without accents, for terms that ignore them.

    >>> bare("Café")
    'cafe'
    """
    if token.isascii():
        return token.lower()
    parts = unicodedata.normalize("NFD", fold(token))
    return unicodedata.normalize("NFC", "".join(c for c in parts if not unicodedata.combining(c)))


def plain_apostrophes(token: str) -> str:
    """The token in its own case with typographic apostrophes and hyphens made plain, and soft ones gone."""
    return token.translate(_SAME)


def clean(text: str) -> tuple[str, list[str]]:
    """A text as it is stored: NFC, ``\\n`` line ends, no NUL; with what was changed, in words."""
    changes = []
    if "\x00" in text:
        changes.append(f"{text.count(chr(0)):,} NUL characters removed")
        text = text.replace("\x00", "")
    if "\r" in text:
        text = text.replace("\r\n", "\n").replace("\r", "\n")
    try:
        text.encode("utf-8")
    except UnicodeEncodeError:
        text = text.encode("utf-16", "surrogatepass").decode("utf-16", "replace")
        changes.append("half characters joined or replaced")
    if not text.isascii() and not unicodedata.is_normalized("NFC", text):
        text = unicodedata.normalize("NFC", text)
        changes.append("letters and accents joined (NFC)")
    return text, changes
