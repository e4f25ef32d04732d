"""Normal forms of a token and of a whole text."""

from __future__ import annotations

import re
import unicodedata

_SAME = str.maketrans({"’": "'", "ʼ": "'", "\u2010": "-", "\u2011": "-", "\u00ad": None, "\ufe0f": None})
#: Letters and digits as wide as a Chinese character, and narrow Japanese letters, by their plain forms (NFKC).
_WIDE = re.compile("[\uff10-\uff19\uff21-\uff3a\uff41-\uff5a\uff66-\uff9f]+")
#: The Arabic sign that only stretches a word.
_TATWEEL = "\u0640"


def fold(token: str) -> str:
    """The form that counting compares when case is ignored: typographic apostrophes become plain, soft hyphens
    and the signs that choose how an emoji is drawn go, the Turkish capital İ is an i, wide letters and digits are plain.

    >>> fold("Don’t"), fold("İZMİR"), fold("❤️") == fold("❤"), fold("ＥＵ２")
    ("don't", 'izmir', True, 'eu2')
    """
    if token.isascii():
        return token.lower()
    if _WIDE.search(token):
        token = _WIDE.sub(lambda found: unicodedata.normalize("NFKC", found[0]), token)
    folded = token.replace("İ", "i").casefold()
    return unicodedata.normalize("NFC", folded).translate(_SAME)


def bare(token: str) -> str:
    """``fold`` without accents, the vowel signs of Arabic and Hebrew, and what stretches Arabic words; for terms that
    ignore them.

    >>> bare("Café"), bare("مُحَمَّد") == bare("محمد")
    ('cafe', True)
    """
    if token.isascii():
        return token.lower()
    parts = unicodedata.normalize("NFD", fold(token))
    return unicodedata.normalize(
        "NFC", "".join(c for c in parts if not unicodedata.combining(c) and c != _TATWEEL)
    )


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
