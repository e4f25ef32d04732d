"""Which of the older encodings of Europe a text is in, told by the words it then has.

In Windows-1252 and Windows-1250 the same bytes are letters of other languages ("się", "siê"): which of the two makes
words that languages often use says which it is.
"""

from __future__ import annotations

import re
from functools import cache

#: In the order in which they are preferred where nothing tells them apart.
CANDIDATES = ("cp1252", "cp1250", "iso-8859-2", "cp1254", "cp1257")
#: Letters outside ASCII by language; lists of words are in part damaged by the very thing that is looked for here.
ALPHABETS = {
    "de": "äöüß", "fr": "àâæçèéêëîïôœùûüÿ", "es": "áéíñóúü", "pt": "àáâãçéêíóôõú", "it": "àèéìíîòóù",
    "sv": "åäöé", "da": "æøåé", "no": "æøåéò", "fi": "äöå", "pl": "ąćęłńóśźż", "cs": "áčďéěíňóřšťúůýž",
    "sk": "áäčďéíĺľňóôŕšťúýž", "hu": "áéíóöőúüű", "sl": "čšž", "hr": "čćđšž", "ro": "ăâîșțşţ", "tr": "çğıöşü",
    "et": "äõöüšž", "lv": "āčēģīķļņšūž",
}  # fmt: skip
_WORD = re.compile(r"[^\W\d_]+")
#: Signs between letters, where only letters stand in a text that was read rightly.
_ODD_INSIDE = re.compile(r"(?<=[^\W\d_])[^\w\s'’\-.,:/@&+*=|·()_](?=[^\W\d_])")


@cache
def _frequent_words() -> dict[str, frozenset[str]]:
    """Frequent words by language."""
    import stopwordsiso

    return {language: frozenset(stopwordsiso.stopwords(language)) for language in ALPHABETS}


def encoding_by_words(sample: bytes) -> str | None:
    """The one of CANDIDATES in which the text is most of a language: its words with letters outside ASCII are frequent
    ones, and such letters are of its alphabet. None where nothing is."""
    scores = {name: _score(sample.decode(name, "replace").lower()) for name in CANDIDATES}
    best = max(CANDIDATES, key=lambda name: scores[name])  # the first of those that are equal
    return best if scores[best] > 0 else None


def _score(text: str) -> int:
    words = _WORD.findall(text)
    frequent = _frequent_words()
    language = max(ALPHABETS, key=lambda one: sum(word in frequent[one] for word in words))
    hits = sum(word in frequent[language] for word in words if not word.isascii())
    letters = [sign for word in words for sign in word if sign > "\x7f"]
    own = sum(sign in ALPHABETS[language] for sign in letters)
    odd = len(_ODD_INSIDE.findall(text)) + text.count("\ufffd")
    return 2 * hits + own - (len(letters) - own) - odd
