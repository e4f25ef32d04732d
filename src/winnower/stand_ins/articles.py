"""The search service for articles and studies. A real one is another class with the methods of ``ArticleSearch``."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Protocol

import numpy as np
from scipy.sparse import csr_matrix
from sklearn.feature_extraction.text import CountVectorizer

from winnower.core.assist.reply import Statement
from winnower.core.errors import NotFound
from winnower.core.tokens.lemmas import brought_together
from winnower.stand_ins.article_records import Record, records

K1, B, TITLE = 1.2, 0.75, 2
SUMMED = 5
_PHRASE = re.compile(r"[\"“„]([^\"”“]+)[\"”“]")
_RIS = {"study": "JOUR", "article": "NEWS", "report": "RPRT", "book": "BOOK"}


@dataclass(frozen=True)
class Wanted:
    """A query (words in any form, phrases in quotes; nothing for all), and filters: kinds, outlets, years."""

    words: str = ""
    kinds: tuple[str, ...] = ()
    outlets: tuple[str, ...] = ()
    first: int | None = None
    last: int | None = None
    newest: bool = False


@dataclass(frozen=True)
class Found:
    """Records found, the best first or the newest; how many of each kind, outlet and year the words alone find."""

    records: tuple[Record, ...]
    kinds: dict[str, int]
    outlets: dict[str, int]
    years: dict[int, int]


class ArticleSearch(Protocol):
    """What a search service has to offer."""

    @property
    def name(self) -> str: ...

    def search(self, wanted: Wanted) -> Found:
        """Everything that is found."""
        ...

    def record(self, record_id: str) -> Record:
        """Raises NotFound."""
        ...


class ShippedArticles:
    """A few thousand made-up records, searched in memory: all words of the query, in any form (Snowball), ordered by BM25
    (Robertson and Zaragoza 2009, Foundations and Trends in Information Retrieval 3), those of titles counted twice."""

    name = "Valley Records (made up, ships with Winnower)"

    @cached_property
    def _all(self) -> tuple[Record, ...]:
        return records()

    @cached_property
    def _counts(self) -> tuple[csr_matrix, dict[str, int]]:
        making = CountVectorizer(analyzer=stems)
        said = [
            " ".join([*([one.title] * TITLE), *one.authors, one.outlet, *one.subjects, one.words])
            for one in self._all
        ]
        counts: csr_matrix = making.fit_transform(said).tocsc()
        return counts, making.vocabulary_

    def search(self, wanted: Wanted) -> Found:
        at = self._found(wanted.words)
        some = [self._all[one] for one in at]
        kept = [one for one in some if _fits(one, wanted)]
        if wanted.newest:
            kept.sort(key=lambda one: -one.year)
        return Found(
            tuple(kept),
            dict(Counter(one.kind for one in some).most_common()),
            dict(Counter(one.outlet for one in some).most_common()),
            dict(sorted(Counter(one.year for one in some).items())),
        )

    def _found(self, words: str) -> list[int]:
        phrases = [" ".join(stems(one)) for one in _PHRASE.findall(words)]
        asked = list(dict.fromkeys(stems(words)))
        if not asked:
            return list(range(len(self._all)))
        counts, column = self._counts
        if any(one not in column for one in asked):
            return []
        part = np.asarray(counts[:, [column[one] for one in asked]].todense(), float)
        having = (part > 0).sum(0)
        weight = np.log((len(part) - having + 0.5) / (having + 0.5) + 1)
        size = np.asarray(counts.sum(1)).ravel()
        score = (weight * part * (K1 + 1) / (part + K1 * (1 - B + B * size / size.mean())[:, None])).sum(1)
        score[(part == 0).any(1)] = 0
        order = np.argsort(-score, kind="stable")
        found = [int(one) for one in order if score[one] > 0]
        return [one for one in found if all(phrase in _stemmed(self._all[one]) for phrase in phrases)]

    def record(self, record_id: str) -> Record:
        for one in self._all:
            if one.id == record_id:
                return one
        raise NotFound(f"The service has no record “{record_id}” any more.")


def stems(words: str) -> list[str]:
    """Words as they are compared: without capitals, by their stems."""
    return [_stem(word) for word in re.findall(r"[^\W_]+", words.casefold())]


@lru_cache(50_000)
def _stem(word: str) -> str:
    return brought_together([word], "en", "stem")[0]


def _stemmed(record: Record) -> str:
    return " ".join(stems(f"{record.title} . {record.words}"))


def _fits(one: Record, wanted: Wanted) -> bool:
    return (
        (not wanted.kinds or one.kind in wanted.kinds)
        and (not wanted.outlets or one.outlet in wanted.outlets)
        and (wanted.first is None or one.year >= wanted.first)
        and (wanted.last is None or one.year <= wanted.last)
    )


def summed_up(first: Sequence[Record], words: str) -> list[Statement]:
    """A sentence of each of the first records: one with a word of the query that repeats the others least; the
    number of a statement's passage is the place of its record, from 1."""
    asked, said = set(stems(words)), Counter[str]()
    statements = []
    for number, record in enumerate(first[:SUMMED], start=1):
        sentences = [one for one in re.split(r"(?<=[.!?])\s+", record.words) if one]
        if not sentences:
            continue
        best = max(sentences, key=lambda one: (_worth(one, asked, said), -sentences.index(one)))
        said.update(set(stems(best)))
        who = record.authors[0].split(",")[0] + (" and others" if len(record.authors) > 1 else "")
        statements.append(Statement(f"{who} ({record.year}): “{best}”", (number,)))
    return statements


def _worth(sentence: str, asked: set[str], said: Counter[str]) -> float:
    words = set(stems(sentence))
    return bool(words & asked) + sum(1 / (1 + said[one]) for one in words) / max(len(words), 1)


def as_ris(chosen: Sequence[Record]) -> str:
    """Records as RIS, as reference managers and the import of this project read it."""
    lines = []
    for one in chosen:
        lines += [f"TY  - {_RIS[one.kind]}", *(f"AU  - {author}" for author in one.authors)]
        lines += [f"TI  - {one.title}", f"PY  - {one.year}"]
        reference = one.reference
        pairs = (("JO", reference.container), ("PB", reference.publisher), ("VL", reference.volume))
        lines += [f"{tag}  - {value}" for tag, value in pairs if value]
        if reference.pages:
            start, end = reference.pages.split("-")
            lines += [f"SP  - {start}", f"EP  - {end}"]
        lines += [
            *(f"KW  - {word}" for word in one.subjects),
            f"AB  - {one.words}",
            f"ID  - {one.id}",
            "ER  - ",
            "",
        ]
    return "\n".join(lines)
