"""Questions answered from the sentences of a scope: all the words asked about stand together, and what is asked for is said."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

import numpy as np

from winnower.core.assist import Cited, Question, Reply, Statement
from winnower.core.assist.amounts import Amount, amounts
from winnower.core.assist.asking import (
    Asked,
    answers_kind,
    is_speech,
    read_question,
    refers_back,
    tells_reason,
)
from winnower.core.assist.saying import COVERS, Point, answered, covering, listed
from winnower.core.assist.sentences import MOST_TOKENS, Sentences, fit_to_quote, fitting
from winnower.core.assist.wordlists import FUNCTIONS
from winnower.core.scope.columns import CategoryColumn, TextColumn
from winnower.store.assisting import Concept, Looking, cut, statement_of

#: Sentences that fit a question best are looked at closely, and so many read for numbers.
MOST_FOUND, MOST_READ = 400, 1_000
#: A short sentence can be an answer: "Nine lambs died."
LEAST_ANSWER = 2
#: Numbers shown one by one, and passages named with each.
MOST_NUMBERS, EACH_NUMBER = 30, 8
NOT_TOGETHER = "No sentence has all of these words, not even with its title and those before it."
LACKS = {
    "number": "Sentences with these words give no such number.",
    "time": "Sentences with these words give no time.",
    "reason": "Sentences with these words give no reason.",
    "view": "In sentences with these words nobody of this name speaks.",
    "place": "Sentences with these words name no place.",
    "person": "Sentences with these words name nobody.",
    "anything": "Sentences with these words only ask.",
}


class English(Protocol):
    """What a word list of the language knows of a word (readers/thesaurus.py)."""

    def inflections(self, word: str) -> list[str]: ...

    def closest(self, word: str) -> list[str]: ...

    def is_person(self, word: str) -> bool: ...

    def is_place(self, word: str) -> bool: ...


def answer(looking: Looking, task: Question, english: English | None) -> Reply:
    """What the texts say to a question, or that they do not tell, and why. Words that mean the same are tried where the
    words themselves give no answer."""
    asked = read_question(task.words, FUNCTIONS if english is not None else looking.stop)
    if not asked.words:
        return looking.reply((), "The question has no word that could be looked for.")
    plain = [looking.concept(word, _forms(english, asked, word)) for word in asked.words]
    reply, reason = _answer(looking, task, asked, plain, english, also=False)
    if reply is None and english is not None:
        wider = [
            looking.concept(word, [*_forms(english, asked, word), *_same(english, asked, word)])
            for word in asked.words
        ]
        reply, reason = _answer(looking, task, asked, wider, english, also=True)
    return reply or looking.reply((), f"Looked for: {listed(asked.words)}, in all their forms. {reason}")


def _forms(english: English | None, asked: Asked, word: str) -> list[str]:
    return [] if english is None or word in asked.names else english.inflections(word)


def _same(english: English, asked: Asked, word: str) -> list[str]:
    return [] if word in asked.names else [one for one in english.closest(word) if " " not in one]


def _answer(
    looking: Looking,
    task: Question,
    asked: Asked,
    concepts: Sequence[Concept],
    english: English | None,
    *,
    also: bool,
) -> tuple[Reply | None, str]:
    """The reply; None and the reason where the texts do not tell."""
    found = Standing(looking, asked, concepts)
    gone = [one.word for one in concepts if not one.forms and one.word not in found.of_text]
    if gone:
        no = "not in any text of the scope" if len(gone) > 1 else "in no text of the scope"
        return None, f"{listed([f'“{word}”' for word in gone])} {'are' if len(gone) > 1 else 'is'} {no}."
    at, score = found.candidates()
    if not len(at):
        return None, NOT_TOGETHER
    read = at[np.argsort(-score[at], kind="stable")[:MOST_READ]]
    cited = dict(zip(read.tolist(), looking.quote(read), strict=True))
    around = found.around(read)
    fit = [
        one
        for one in read.tolist()
        if answers_kind(asked, cited[one].words, around[one], english)
        and found.reaches(one, cited[one].words)
    ]
    if not any(found.reaches(one, cited[one].words) for one in read.tolist()):
        return None, NOT_TOGETHER
    how = _how(concepts, also, len(at), len(read))
    if asked.kind == "number":
        statements = _numbers(asked, concepts, [(found, one, cited[one]) for one in fit], task.most)
    else:
        statements = _sentences(
            looking, np.array(sorted(fit), np.int64), score, task.most, reason=asked.kind == "reason"
        )
    return (looking.reply(statements, how), "") if statements else (None, LACKS[asked.kind])


def _how(concepts: Sequence[Concept], also: bool, n: int, read: int) -> str:
    words = ", ".join(
        f"{one.word} ({', '.join(one.forms[:8])}{', …' if len(one.forms) > 8 else ''})" for one in concepts
    )
    more = f" Of {n:,} such sentences the best {read:,} were read." if n > read else ""
    close = " and words that mean the same" if also else ""
    return (
        f"Looked for: {words}, in all their forms{close}. A sentence answers where it has all of these words, or the title "
        f"or the sentences before it have those it refers back to, and where it gives what is asked for. The best come first (BM25, Robertson "
        f"and Zaragoza 2009).{more}"
    )


def _sentences(
    looking: Looking, at: np.ndarray, score: np.ndarray, most: int, *, reason: bool
) -> list[Statement]:
    if not len(at):
        return []
    best_first = np.sort(at[np.argsort(-score[at], kind="stable")[:MOST_FOUND]])
    found = looking.sentences(best_first, least=LEAST_ANSWER)
    points = answered(found, score[found.at], most)
    return [
        _with_reason(looking, found, point) if reason else statement_of(looking, found, point)
        for point in points
    ]


def _with_reason(looking: Looking, found: Sentences, point: Point) -> Statement:
    """A statement with the sentence after it where that one gives the reason."""
    said = statement_of(looking, found, point)
    unit = int(found.at[point.row])
    text = looking.units.text
    if unit + 1 < len(text) and text[unit + 1] == text[unit]:
        here, after = looking.quote([unit, unit + 1])
        if not tells_reason(here.words) and tells_reason(after.words):
            return Statement(f"{said.words} “{cut(after.words)}”", (*said.passages, after.number))
    return said


def _numbers(
    asked: Asked, concepts: Sequence[Concept], fit: Sequence[tuple[Standing, int, Cited]], most: int
) -> list[Statement]:
    """All numbers that are given, the one in most passages first, each with its passages."""
    counted = frozenset(form for one in concepts if one.word == asked.counted for form in one.forms)
    others = frozenset(form for one in concepts if one.word != asked.counted for form in one.forms)
    given: dict[str, tuple[Amount, list[Cited]]] = {}
    for standing, unit, cited in fit:
        here = counted if standing.has(asked.counted, unit) else frozenset()
        for amount in amounts(cited.words, asked.measure, here, others):
            given.setdefault(amount.said, (amount, []))[1].append(cited)
    order = sorted(given.values(), key=lambda one: (-len(one[1]), one[0].value))
    if not order:
        return []
    statements = []
    if len(order) > 1:
        shown = [f"{amount.said} ({_passages(len(some))})" for amount, some in order[:MOST_NUMBERS]]
        more = f"; {len(order) - MOST_NUMBERS:,} more" if len(order) > MOST_NUMBERS else ""
        firsts = tuple(dict.fromkeys(some[0].number for _, some in order[:MOST_NUMBERS]))
        statements.append(
            Statement(f"{len(order):,} different numbers are given: {', '.join(shown)}{more}.", firsts)
        )
    for amount, some in order[: max(most, 1) if len(order) > MOST_NUMBERS else MOST_NUMBERS]:
        named = tuple(one.number for one in some[:EACH_NUMBER])
        first = f", the first {EACH_NUMBER} of them here" if len(some) > EACH_NUMBER else ""
        words = f"{amount.said}, in {_passages(len(some))}{first}: “{cut(some[0].words)}”"
        statements.append(Statement(words[:1].upper() + words[1:], named))
    return statements


def _passages(n: int) -> str:
    return f"{n:,} passage{'s' if n != 1 else ''}"


@dataclass
class Standing:
    """Where the words of a question stand among the sentences of a scope."""

    looking: Looking
    asked: Asked
    concepts: Sequence[Concept]
    #: Sentences that need no other one, those that need what was said before, and after them; known once candidates are.
    whole: frozenset[int] = frozenset()
    needs_before: frozenset[int] = frozenset()

    @cached_property
    def units(self) -> list[np.ndarray]:
        """int64 per concept: sentences it stands in, each once, ascending."""
        found = []
        for one in self.concepts:
            places = self.looking.hits_of(one.forms) if one.forms else None
            found.append(
                np.unique(self.looking.units.spans(places, self.looking.room.corpus.index)[0])
                if places is not None and places.hits
                else np.empty(0, np.int64)
            )
        return found

    @cached_property
    def of_text(self) -> dict[str, np.ndarray]:
        """bool per text of the corpus, by name asked for: it stands in the title or is of the source of the text, and
        need not stand in each of its sentences."""
        found = {}
        fields = self.looking.room.corpus.columns.fields
        title, source = fields["title"], fields["source"]
        assert isinstance(title, TextColumn)
        assert isinstance(source, CategoryColumn)
        for one in self.concepts:
            if one.word in self.asked.names and not one.word[0].isdigit():
                pattern = rf"(?i)\b{re.escape(one.word)}\b"
                of_title = title.values.str.contains(pattern).fill_null(False)
                named = [at for at, label in enumerate(source.labels) if one.word in label.casefold().split()]
                mask = of_title.to_numpy() | np.isin(source.codes, named)
                if mask.any():
                    found[one.word] = mask
        return found

    @cached_property
    def titled(self) -> list[np.ndarray]:
        """bool per text of the corpus and concept: the title has one of its forms."""
        title = self.looking.room.corpus.columns.fields["title"]
        assert isinstance(title, TextColumn)
        found = []
        for one in self.concepts:
            forms = "|".join(re.escape(form) for form in one.forms)
            has = title.values.str.contains(rf"(?i)\b(?:{forms})\b") if forms else title.values.is_null()
            found.append(has.fill_null(False).to_numpy() & bool(forms))
        return found

    def candidates(self) -> tuple[np.ndarray, np.ndarray]:
        """Sentences that have all words themselves, or with those before them and the name of their text, ascending;
        and the score of each sentence of the corpus (float64)."""
        beside = [self.looking.concept(word) for word in self.asked.beside]
        score = scored(self.looking, [*self.concepts, *beside], covers=0.0)
        at = fitting(self.looking.units, np.flatnonzero(score > 0), LEAST_ANSWER, MOST_TOKENS)
        text = self.looking.units.text
        before = [np.where((at >= back) & (text[at - back] == text[at]), at - back, -1) for back in (1, 2)]
        after = np.where(text[np.minimum(at + 1, len(text) - 1)] == text[at], at + 1, -1)
        every, about, back, nearly, named = (np.ones(len(at), bool) for _ in range(5))
        own, named[:] = np.zeros(len(at)), False
        for one, units, titled in zip(self.concepts, self.units, self.titled, strict=True):
            here = np.isin(at, units)
            if one.word in self.asked.names:
                named |= here  # first and last name are one thing
            else:
                own += here
            mask = self.of_text.get(one.word)
            told = here if mask is None else here | mask[text[at]]
            every &= told
            about &= told | titled[text[at]]
            told = told | titled[text[at]] | np.isin(before[0], units) | np.isin(before[1], units)
            back &= told
            nearly &= told | np.isin(after, units)
        things = sum(one.word not in self.asked.names for one in self.concepts) + bool(self.asked.names)
        ok = every | (nearly & ((own + named) * 2 >= things))
        self.whole = frozenset(at[ok & about].tolist())
        self.needs_before = frozenset(at[ok & back].tolist())
        return at[ok], score

    def reaches(self, unit: int, words: str) -> bool:
        """Whether a sentence has all words itself or from the title, or may take those it lacks from the two before it
        or, where it is somebody's words, from the one after it."""
        if unit in self.whole:
            return True
        return is_speech(words) or (unit in self.needs_before and refers_back(words))

    def has(self, word: str, unit: int) -> bool:
        """Whether a word of the question stands in a sentence."""
        for one, units in zip(self.concepts, self.units, strict=True):
            if one.word == word:
                at = int(np.searchsorted(units, unit))
                return at < len(units) and int(units[at]) == unit
        return False

    def around(self, at: np.ndarray) -> dict[int, str]:
        """Each sentence with the one before and the one after it in its text; only where reasons are asked for."""
        if self.asked.kind != "reason":
            return dict.fromkeys(at.tolist(), "")
        text, n = self.looking.units.text, len(self.looking.units)
        near = {
            int(one): [
                int(other) for other in (one - 1, one, one + 1) if 0 <= other < n and text[other] == text[one]
            ]
            for one in at
        }
        every = sorted({other for some in near.values() for other in some})
        words = dict(zip(every, (one.words for one in self.looking.quote(every)), strict=True))
        return {one: " ".join(words[other] for other in some) for one, some in near.items()}


def concepts_of(looking: Looking, words: str) -> list[Concept]:
    """Content words of a question, each with its forms in the corpus."""
    return [looking.concept(word) for word in read_question(words, looking.stop).words]


def scored(looking: Looking, concepts: Sequence[Concept], covers: float = COVERS) -> np.ndarray:
    """What each sentence of the corpus says of some concepts, float64 per unit; 0 outside the scope, and where it has less
    than ``covers`` of what the concepts weigh together."""
    units, index = looking.units, looking.room.corpus.index
    n_scope = len(looking.within())
    hits, which, weight = [np.empty(0, np.int64)], [np.empty(0, np.int64)], np.zeros(len(concepts))
    for number, one in enumerate(concepts):
        found = looking.hits_of(one.forms) if one.forms else None
        unit = units.spans(found, index)[0] if found is not None and found.hits else np.empty(0, np.int64)
        n = len(np.unique(unit))
        weight[number] = np.log((n_scope - n + 0.5) / (n + 0.5) + 1)
        hits.append(unit)
        which.append(np.full(len(unit), number))
    size = units.after - units.start
    return covering(len(units), size, np.concatenate(hits), np.concatenate(which), weight, covers)


def best(looking: Looking, score: np.ndarray, most: int = MOST_FOUND) -> np.ndarray:
    """Numbers of the sentences with the highest scores that can be quoted, ascending."""
    there = fit_to_quote(looking.units, np.flatnonzero(score > 0))
    top = there[np.argsort(-score[there], kind="stable")[:most]]
    return np.sort(top)
