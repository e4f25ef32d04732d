"""The assistant's rules brought to a project: sentences found, quoted, and put into statements."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
import polars as pl

from winnower.core.assist import Cited, Reply, Statement, Summary, Themes, Viewpoints
from winnower.core.assist.naming import noun_phrase
from winnower.core.assist.saying import Point, Theme, listed, summarised, themed, viewpoints
from winnower.core.assist.sentences import (
    LEAST_TOKENS,
    MOST_SENTENCES,
    Sentences,
    fit_to_quote,
    sentences_of,
    spread,
)
from winnower.core.coding import origin_in_words, paragraph_at
from winnower.core.dictionary import TermEntry
from winnower.core.errors import NotFound
from winnower.core.index import brought_together
from winnower.core.learn.words import tokens_of
from winnower.core.places import Places, passages, whole_sentence
from winnower.core.places.units import Units, units_of
from winnower.core.scope import Scope, Split
from winnower.core.themes.classes import Uses, classes_of
from winnower.core.tokens.lemmas import LEMMA_LANGUAGES, STEM_LANGUAGES, lemma_of
from winnower.core.tokens.lemmas import brought_together as stems_of
from winnower.store.answering import Room, stop_numbers
from winnower.store.opened import OpenCorpus
from winnower.store.reading import standings_in
from winnower.store.texts import bodies, origin_at
from winnower.store.words import language_of, stop_words

MOST_QUOTED = 320
MOST_FORMS = 60
VERBS = ("writes", "adds", "says", "notes", "goes on")


@dataclass(frozen=True)
class Concept:
    """A word that is looked for, with all its forms in the corpus."""

    word: str
    forms: tuple[str, ...]


def roots_of(lemmas: Sequence[str], language: str) -> list[str]:
    """The stem of each lemma; the lemma where the language has no rules for stems."""
    return stems_of(lemmas, language, "stem") if language in STEM_LANGUAGES else list(lemmas)


@dataclass
class Looking:
    """A scope of a project as the assistant looks at it: its sentences, and those that were quoted, by their numbers."""

    room: Room
    scope: Scope
    quoted: dict[int, Cited] = field(default_factory=dict)

    @property
    def units(self) -> Units:
        found: Units = self.room.corpus.kept(
            ("units", "sentence"), lambda one: units_of(one.index, "sentence"), ()
        )
        return found

    @property
    def functions(self) -> np.ndarray:
        return stop_numbers(self.room.session, self.room.project, self.room.corpus)

    def within(self, mask: np.ndarray | None = None) -> np.ndarray:
        """Numbers of the sentences of the scope, or of those of its texts that a mask has (bool per text)."""
        ground = self.room.corpus.ground(self.scope, Split()).mask
        some = ground if mask is None else ground & mask
        return np.flatnonzero(some[self.units.text])

    def sentences(self, at: np.ndarray, most: int = MOST_SENTENCES, least: int = LEAST_TOKENS) -> Sentences:
        corpus = self.room.corpus
        return sentences_of(
            self.units, at, corpus.index, corpus.lexicon, self.functions, self.together, most, least
        )

    @property
    def stems(self) -> pl.Series:
        """For each fold of the corpus what stands for all its forms: the stem of its lemma, so that "wrote" is a form of
        "write". Folds stay as they are in languages nothing is known about."""
        language = language_of(self.room.session, self.room.project.id)

        def make(corpus: OpenCorpus) -> pl.Series:
            folds = corpus.lexicon.folds
            if language in LEMMA_LANGUAGES:
                folds = brought_together(corpus.index, corpus.lexicon, language, "lemma")
            each = folds.unique(maintain_order=True)
            return folds.replace_strict(each, pl.Series(roots_of(each.to_list(), language)))

        found: pl.Series = self.room.corpus.kept(("stems of lemmas", language), make, ())
        return found

    @property
    def together(self) -> np.ndarray:
        """int64 per fold: the shortest fold with the same stem."""

        def make(corpus: OpenCorpus) -> np.ndarray:
            frame = pl.DataFrame({"stem": self.stems, "fold": corpus.lexicon.folds}).with_row_index("number")
            shortest = (
                frame.sort(pl.col("fold").str.len_chars(), "fold")
                .unique("stem", keep="first")
                .select("stem", best="number")
            )
            found = frame.join(shortest, on="stem", how="left", maintain_order="left")["best"]
            return found.cast(pl.Int64).to_numpy()

        language = language_of(self.room.session, self.room.project.id)
        found: np.ndarray = self.room.corpus.kept(("stems together", language), make, ())
        return found

    def word(self, found: Sentences) -> Callable[[int], str]:
        """What a column of sentences is called."""
        folds = self.room.corpus.lexicon.folds
        return lambda column: str(folds[int(found.words.folds[column])])

    def phrase(self, found: Sentences, theme: Theme, uses: Mapping[str, Uses] | None) -> str:
        """A noun phrase that the sentences of a theme share; "" where they share none."""
        lexicon, language = self.room.corpus.lexicon, language_of(self.room.session, self.room.project.id)
        tokens = tokens_of(self.units, found.at[theme.having], self.room.corpus.index, lexicon)
        there = np.unique(tokens.fold)
        folds = lexicon.folds.gather(there).to_list()
        lemmas = [lemma_of(one, language) for one in folds] if language in LEMMA_LANGUAGES else folds
        classes = classes_of(folds, lemmas, lexicon.kinds[there], self.stop, uses)
        kinds = dict(zip(there.tolist(), classes.of.tolist(), strict=True))
        top = self.together[found.words.folds[list(theme.top)]]
        return " ".join(str(lexicon.folds[one]) for one in noun_phrase(tokens, kinds, top, self.together))

    def quote(self, units: Iterable[int]) -> list[Cited]:
        """Sentences by their numbers, quoted; each has one number however often it is named."""
        wanted = [int(one) for one in units]
        new = [one for one in dict.fromkeys(wanted) if one not in self.quoted]
        if new:
            corpus = self.room.corpus
            places = self.units.places(np.asarray(new), corpus.index)
            # each by itself: in whatever order they are asked for, none is taken into another
            found, _ = passages(places, corpus.index, 0, len(new), each_hit=True)
            body = bodies(self.room.session, [one.text_id for one in found])
            standings = standings_in(self.room.session, body.keys())
            for unit, one in zip(new, found, strict=True):
                start, end = whole_sentence(body[one.text_id], one)
                title, source, date = origin_at(corpus, one.text)
                paragraph = paragraph_at(body[one.text_id], start)
                standing = standings.at(one.text_id, start)
                origin = origin_in_words(standing, source, date, title, paragraph)
                words = body[one.text_id][start:end]
                self.quoted[unit] = Cited(
                    len(self.quoted) + 1, one.text_id, start, end, paragraph, words, origin
                )
        return [self.quoted[one] for one in wanted]

    def reply(self, statements: Sequence[Statement], how: str) -> Reply:
        return Reply(tuple(self.quoted.values()), tuple(statements), how=how)

    def hits_of(self, forms: Sequence[str]) -> Places:
        terms = tuple(TermEntry(form).parse() for form in forms)
        return self.room.corpus.hits(terms, self.scope, "text")

    def concept(self, word: str, same: Sequence[str] = ()) -> Concept:
        """A word of a question with the forms the corpus has of it and of the words that mean the ``same``."""
        language = language_of(self.room.session, self.room.project.id)
        lemmas = [lemma_of(one, language) if language in LEMMA_LANGUAGES else one for one in (word, *same)]
        roots = pl.Series(list(dict.fromkeys(roots_of(lemmas, language))))
        folds = self.room.corpus.lexicon.folds.filter(self.stems.is_in(roots.implode()))
        return Concept(word, tuple(folds.to_list()[:MOST_FORMS]))

    @property
    def stop(self) -> frozenset[str]:
        """The stop list of the project, folded."""
        return frozenset(stop_words(self.room.session, self.room.project.id))


def cut(words: str) -> str:
    """Words to quote: quotes inside them are single ones; longer words end with an ellipsis."""
    words = " ".join(re.sub('[“„"]', "‘", words).replace("”", "’").split())
    return words if len(words) <= MOST_QUOTED else re.sub(r"\s+\S*$", "", words[:MOST_QUOTED]) + " …"


def said(
    looking: Looking, task: Summary | Viewpoints | Themes, uses: Mapping[str, Uses] | None = None
) -> Reply:
    """What the rules say to a task that is answered in statements. ``uses`` tells how often words are nouns
    (readers/word_classes.py), None where no list does. Raises NotFound for a group that is gone."""
    if isinstance(task, Summary):
        return _summary(looking, task)
    if isinstance(task, Viewpoints):
        return _viewpoints(looking, task)
    return _themes(looking, task, uses)


def statement_of(looking: Looking, found: Sentences, point: Point, opening: str = "") -> Statement:
    main, *alike = looking.quote(found.at[[point.row, *point.alike]])
    before = f"{opening or point.before}: " if opening or point.before else ""
    return Statement(
        f"{before}“{cut(main.words)}”", tuple(dict.fromkeys(one.number for one in (main, *alike)))
    )


def _looked_at(found: Sentences) -> str:
    if found.of <= len(found):
        return f"All {found.of:,} sentences of the scope that can be quoted were looked at."
    return f"Of {found.of:,} sentences of the scope that can be quoted {len(found):,} were looked at, spread evenly."


def _summary(looking: Looking, task: Summary) -> Reply:
    found = looking.sentences(looking.within())
    how = (
        f"{_looked_at(found)} Chosen are those nearest to the middle of all words (centroid, Radev and others 2004) that do "
        "not repeat one another (maximal marginal relevance, Carbonell and Goldstein 1998); passages that say alike are "
        "named with them."
    )
    points = summarised(found, task.most) if len(found) else []
    statements = []
    for number, point in enumerate(points):
        opening = ""
        if task.form == "prose":
            opening = f"{_who(looking, found, point)} {VERBS[number % len(VERBS)]}"
        statements.append(statement_of(looking, found, point, opening))
    return looking.reply(statements, how)


def _who(looking: Looking, found: Sentences, point: Point) -> str:
    place = int(looking.units.text[found.at[point.row]])
    title, source, _ = origin_at(looking.room.corpus, place)
    return source or title or "A text"


def _viewpoints(looking: Looking, task: Viewpoints) -> Reply:
    corpus = looking.room.corpus
    groups = corpus.ground(looking.scope, task.split).groups
    sides = []
    for name in (task.first, task.second):
        if name not in groups.labels:
            raise NotFound(f"There is no group “{name}” in this split any more.")
        mask = np.zeros(corpus.index.n_texts, bool)
        mask[groups.text[groups.group == groups.labels.index(name)]] = True
        sides.append(spread(fit_to_quote(looking.units, looking.within(mask)), MOST_SENTENCES // 2))
    both = looking.sentences(np.unique(np.concatenate(sides)), 2 * MOST_SENTENCES)
    parts = [both.some(np.isin(both.at, side)) for side in sides]
    how = (
        f"{len(parts[0]):,} sentences of {task.first} and {len(parts[1]):,} of {task.second} were looked at. Words are one "
        "side’s where the log odds, with both as the prior, are more than 1.96 standard errors from even (Monroe and others "
        "2008); quoted are sentences with most of them. Both speak of words that are frequent in both and typical of neither."
    )
    if not all(len(part) for part in parts):
        return looking.reply((), how)
    first, second, shared = viewpoints(parts[0], parts[1], (task.first, task.second), looking.word(both))
    statements = [statement_of(looking, parts[0], point) for point in first]
    statements += [statement_of(looking, parts[1], point) for point in second]
    for about, one, other in shared:
        quotes = looking.quote([parts[0].at[one], parts[1].at[other]])
        words = f"Both speak of {about}. {task.first}: “{cut(quotes[0].words)}” {task.second}: “{cut(quotes[1].words)}”"
        statements.append(Statement(words, tuple(dict.fromkeys(quote.number for quote in quotes))))
    return looking.reply(statements, how)


def _themes(looking: Looking, task: Themes, uses: Mapping[str, Uses] | None) -> Reply:
    found = looking.sentences(looking.within())
    how = (
        f"{_looked_at(found)} Themes are parts of the matrix of their words (non-negative factors, Lee and Seung 1999; from a "
        "beginning without chance); a share is that of these sentences with two or more of its ten strongest words. A theme is "
        "called by the noun phrase with one of these words that is in most of them."
    )
    word, statements = looking.word(found), []
    for theme in themed(found, task.most) if len(found) > 8 else []:
        words = listed([word(column) for column in theme.top[:3]])
        name = looking.phrase(found, theme, uses) or words
        point = Point(
            f"{name[:1].upper()}{name[1:]} (about {theme.share:.0%} of these sentences; {words})",
            theme.rows[0],
            theme.rows[1:],
        )
        statements.append(statement_of(looking, found, point))
    return looking.reply(statements, how)
