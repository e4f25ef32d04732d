"""The rules of counting once more, in the plainest Python: loops over tokens, nothing shared with the core."""

from __future__ import annotations

import unicodedata

import regex
from icu4py.breakers import WordBreaker

_WORD = r"[\p{L}\p{N}\p{M}]"
_SINGLE = r"\u30FC|\uFF70|\p{Han}|\p{Hiragana}|\p{Katakana}|\p{Thai}|\p{Lao}|\p{Khmer}|\p{Myanmar}"
_TOKEN = regex.compile(
    rf"""(?:https?://|www\.)[^\s<>"“”]*[^\s<>"“”'’)\].,;:!?]
    |[\p{{L}}\p{{N}}][\p{{L}}\p{{N}}._%+\-]*@[\p{{L}}\p{{N}}\-]+(?:\.[\p{{L}}\p{{N}}\-]+)+
    |[#@][\p{{L}}\p{{N}}][\p{{L}}\p{{N}}\p{{M}}_]*(?:-(?:(?!{_SINGLE}){_WORD})+)*
    |[0-9#*]\uFE0F?\u20E3
    |\p{{N}}+(?:[.,]\p{{N}}+)+
    |(?:(?!{_SINGLE}){_WORD})+(?:['’ʼ\-\u2010\u2011\u00AD](?:(?!{_SINGLE}){_WORD})+)*
    |(?:{_SINGLE})(?:(?:{_SINGLE})|\p{{M}})*
    |\p{{Regional_Indicator}}{{2}}
    |\U0001F3F4[\U000E0020-\U000E007E]+\U000E007F
    |(?:(?![©®™])\p{{Extended_Pictographic}}\uFE0F?|[©®™]\uFE0F)[\U0001F3FB-\U0001F3FF]?
    (?:\u200D(?:(?![©®™])\p{{Extended_Pictographic}}\uFE0F?|[©®™]\uFE0F)[\U0001F3FB-\U0001F3FF]?)*""",
    regex.VERBOSE,
)


def tokens(text: str) -> list[tuple[str, int]]:
    """(token, code point at which it begins). Elided words are not parted: no text of these tests has one."""
    found = []
    for m in _TOKEN.finditer(text):
        at = m.start()
        for word in WordBreaker(m.group(), "en") if regex.match(_SINGLE, m.group()) else [m.group()]:
            found.append((word, at))
            at += len(word)
    return found


def fold(token: str) -> str:
    folded = (
        unicodedata.normalize("NFC", token.replace("İ", "i").casefold()).replace("’", "'").replace("ʼ", "'")
    )
    return folded.replace("\u2010", "-").replace("\u2011", "-").replace("\u00ad", "").replace("\ufe0f", "")


def matches(piece: str, token: str) -> bool:
    """Whether a word of a term, with * and ?, stands for a token."""
    wanted, given = fold(piece), fold(token)
    states = {0}
    for at in range(len(given) + 1):
        grown: set[int] = set()
        stack = list(states)
        while stack:  # a star may stand for nothing
            state = stack.pop()
            if state in grown:
                continue
            grown.add(state)
            if state < len(wanted) and wanted[state] == "*":
                stack.append(state + 1)
        if at == len(given):
            return len(wanted) in grown
        states = set()
        for state in grown:
            if state < len(wanted):
                if wanted[state] == "*":
                    states.add(state)
                elif wanted[state] in ("?", given[at]):
                    states.add(state + 1)
    return False


def hits(term: list[str], words: list[str]) -> list[int]:
    """Places at which a term (its words in a row) hits."""
    last = len(words) - len(term)
    return [at for at in range(last + 1) if all(matches(p, words[at + k]) for k, p in enumerate(term))]


def category_hits(terms: list[list[str]], words: list[str]) -> list[tuple[int, int]]:
    """(place, length) of a category's hits: the longest first, then the leftmost, none overlapping."""
    found = {(at, len(term)) for term in terms for at in hits(term, words)}
    taken: set[int] = set()
    kept = []
    for at, length in sorted(found, key=lambda hit: (-hit[1], hit[0])):
        places = set(range(at, at + length))
        if not places & taken:
            taken |= places
            kept.append((at, length))
    return sorted(kept)


Span = tuple[int, int]


def spans(what, words: list[str], sentence_of: list[int]) -> set[Span]:
    """(first word, word after the last) of all places where a piece of a term stands, within a sentence.

    ``what`` is a word with * and ?, ("expression", pattern), ("any", [what, ...]) or
    ("row", [what, ...], [(least, most), ...]).
    """
    if isinstance(what, str):
        return {(at, at + 1) for at, word in enumerate(words) if matches(what, word)}
    if what[0] == "expression":
        return {(at, at + 1) for at, word in enumerate(words) if regex.fullmatch(what[1], fold(word))}
    if what[0] == "any":
        return {span for option in what[1] for span in spans(option, words, sentence_of)}
    found = spans(what[1][0], words, sentence_of)
    for item, (least, most) in zip(what[1][1:], what[2], strict=True):
        more = spans(item, words, sentence_of)
        near = {(a, d) for a, b in found for c, d in more if least <= c - b <= most}
        found = {(a, d) for a, d in near if sentence_of[a] == sentence_of[d - 1]}
    return found


def term_hits(term: dict, words: list[str], sentence_of: list[int]) -> set[Span]:
    """Hits of the head for which all conditions hold; overlaps are left in."""
    return {
        hit
        for hit in spans(term["head"], words, sentence_of)
        if all(_holds(condition, hit, words, sentence_of) for condition in term["conditions"])
    }


def _holds(condition: tuple, hit: Span, words: list[str], sentence_of: list[int]) -> bool:
    relation, within, unless, what = condition
    return (
        any(_stands(relation, within, hit, other, sentence_of) for other in spans(what, words, sentence_of))
        != unless
    )


def _stands(relation: str, within: int | None, hit: Span, other: Span, sentence_of: list[int]) -> bool:
    if relation == "part-of":
        return other[0] <= hit[0] and hit[1] <= other[1]
    if other[0] >= hit[1]:
        side, away = "before", other[0] - hit[1] + 1
    elif other[1] <= hit[0]:
        side, away = "after", hit[0] - other[1] + 1
    else:
        return False
    if relation not in ("near", side):
        return False
    if within is None:
        home = sentence_of[hit[0]]
        return sentence_of[other[0]] == home and sentence_of[other[1] - 1] == home
    return away <= within


def without_overlaps(found: set[Span]) -> list[Span]:
    """The longest first, then the leftmost."""
    kept: list[Span] = []
    for begin, end in sorted(found, key=lambda span: (span[0] - span[1], span[0])):
        if all(end <= b or begin >= e for b, e in kept):
            kept.append((begin, end))
    return sorted(kept)
