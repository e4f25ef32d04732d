"""Elided words: "l'école" is two words, "l'" and "école", as is "dell'arte"; "don't" is one.

Which words are elided is said by lists of French, Italian and Catalan, not by the language a text is taken for: a
term is cut as texts are, so that it finds the same words in every text, however short or mixed. An elided word stands
before a vowel, an h or a y, which the endings of English ("dell's", "he'll") do not begin with.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

#: Words that lose their last vowel before another word, without it.
ELIDED = {
    "fr": ("c", "d", "j", "l", "m", "n", "s", "t", "qu", "jusqu", "lorsqu", "puisqu", "quoiqu"),
    "it": (
        "c", "d", "l", "m", "n", "s", "t", "v", "un", "gl", "all", "coll", "dall", "dell", "nell", "sull", "agl",
        "cogl", "dagl", "degl", "negl", "sugl", "quell", "quegl", "quest", "bell", "begl", "sant", "tutt", "mezz",
        "anch", "com", "cos", "dov", "senz", "nessun", "ciascun", "qualcun", "alcun", "pover", "buon", "grand",
    ),
    "ca": ("d", "l", "m", "n", "s", "t"),
}  # fmt: skip
_ALL = frozenset(word for words in ELIDED.values() for word in words)
_SIGNS = ("'", "’", "ʼ")
_WORDS = "|".join(sorted(_ALL, key=lambda word: (-len(word), word)))
_VOWEL = "aeiouhàâäáãåæèéêëìíîïòóôöõøœùúûü"
_BEGINNING = re.compile(
    rf"((?:{_WORDS})['’ʼ])([{_VOWEL}]\w.*|y(?!ou|a$|e$|all).*|[aàeèéoò]$)", re.IGNORECASE | re.DOTALL
)
#: A part that is elided; no other token ends with its sign.
IS_ELIDED = r"^\p{L}{1,8}['’ʼ]$"
#: What a piece must hold to be looked at; for a linear-time engine.
SIGN = r"^[\p{L}]{1,7}['’ʼ]\p{L}"


def with_their_signs(words: Sequence[tuple[str, int]], term: str) -> list[tuple[str, int]]:
    """The words of a term, those that are elided with their sign where they stand alone: "l'" is the word that lists show.
    In a text a sign before a space closes a quotation.

    >>> with_their_signs([("l", 0), ("homme", 3)], "l' homme")
    [("l'", 0), ('homme', 3)]
    """
    out = []
    for form, at in words:
        end = at + len(form)
        alone = term[end + 1 : end + 2].strip() == "" and term[max(at - 1, 0) : at] not in _SIGNS
        sign = term[end : end + 1]
        out.append((form + sign, at) if alone and sign in _SIGNS and form.lower() in _ALL else (form, at))
    return out


def parted(piece: str) -> Sequence[str]:
    """The words of a token, one after the other: itself where nothing is elided in it.

    >>> parted("L’école"), parted("d'un'altra"), parted("don't"), parted("Dell's")
    (['L’', 'école'], ["d'", "un'", 'altra'], ["don't"], ["Dell's"])
    """
    out: list[str] = []
    while found := _BEGINNING.match(piece):
        out.append(found[1])
        piece = found[2]
    return [*out, piece]
