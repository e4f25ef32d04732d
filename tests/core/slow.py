"""The rules of counting once more, in the plainest Python: loops over tokens, nothing shared with the core."""

from __future__ import annotations

import unicodedata

import regex

_WORD = r"[\p{L}\p{N}\p{M}]"
_SINGLE = r"\p{Han}|\p{Hiragana}|\p{Katakana}|\p{Thai}|\p{Lao}|\p{Khmer}|\p{Myanmar}"
_TOKEN = regex.compile(
    rf"""(?:https?://|www\.)[^\s<>"“”]*[^\s<>"“”'’)\].,;:!?]
    |[\p{{L}}\p{{N}}][\p{{L}}\p{{N}}._%+\-]*@[\p{{L}}\p{{N}}\-]+(?:\.[\p{{L}}\p{{N}}\-]+)+
    |[#@](?!{_SINGLE}){_WORD}[\p{{L}}\p{{N}}\p{{M}}_]*(?:-(?:(?!{_SINGLE}){_WORD})+)*
    |[0-9#*]\uFE0F?\u20E3
    |\p{{N}}+(?:[.,]\p{{N}}+)+
    |(?:(?!{_SINGLE}){_WORD})+(?:['’ʼ\-\u2010\u2011](?:(?!{_SINGLE}){_WORD})+)*
    |(?:{_SINGLE})\p{{M}}*
    |\p{{Regional_Indicator}}{{2}}
    |\p{{Extended_Pictographic}}\uFE0F?[\U0001F3FB-\U0001F3FF]?(?:\u200D\p{{Extended_Pictographic}}\uFE0F?[\U0001F3FB-\U0001F3FF]?)*""",
    regex.VERBOSE,
)


def tokens(text: str) -> list[tuple[str, int]]:
    """(token, code point at which it begins)."""
    return [(m.group(), m.start()) for m in _TOKEN.finditer(text)]


def fold(token: str) -> str:
    return unicodedata.normalize("NFC", token.casefold()).replace("’", "'").replace("ʼ", "'")


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
