"""How often words are used as noun, verb, adjective or adverb, from a WordNet database (wndb(5), cntlist(5WN)).

Debian's wordnet-base puts it under /usr/share/wordnet. English only.
"""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from winnower.core.themes.classes import LISTED, Uses

DEBIAN_FOLDER = Path("/usr/share/wordnet")
PARTS = ("noun", "verb", "adj", "adv")
#: Sense keys tell the part of speech by a digit; 5 are adjectives too.
_OF_DIGIT = {"1": 0, "2": 1, "3": 2, "4": 3, "5": 2}


@lru_cache(maxsize=2)
def word_uses(folder: Path = DEBIAN_FOLDER) -> dict[str, Uses] | None:
    """By word (single words, lower case) how often it was seen as (noun, verb, adjective, adverb), a little for each use
    a dictionary lists; None where the database is not there."""
    if not all((folder / name).is_file() for name in ("cntlist.rev", *(f"index.{part}" for part in PARTS))):
        return None
    uses: dict[str, list[float]] = {}
    for at, part in enumerate(PARTS):
        with (folder / f"index.{part}").open(encoding="utf-8", errors="replace") as lines:
            for line in lines:
                word = line.partition(" ")[0]
                if word and "_" not in word:
                    uses.setdefault(word, [0.0] * 4)[at] += LISTED
    with (folder / "cntlist.rev").open(encoding="utf-8", errors="replace") as lines:
        for line in lines:
            key, _, times = line.split()
            word, _, sense = key.partition("%")
            if word in uses and sense[:1] in _OF_DIGIT:
                uses[word][_OF_DIGIT[sense[0]]] += int(times)
    return {word: (one[0], one[1], one[2], one[3]) for word, one in uses.items()}
