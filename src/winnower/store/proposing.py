"""What the assistant proposes: names, wordings, groups of codes, codings; each to be taken or left."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from winnower.core.assist import NOT_TOLD, Codings, GroupsOfCodes, Proposal, Reply, TopicName, Wordings
from winnower.core.assist.naming import CodeWords, capital, grouped
from winnower.core.assist.saying import TELLING, listed
from winnower.core.assist.sentences import Sentences, central, fit_to_quote, pairs_in, spread, telling, varied
from winnower.core.coding import Passages
from winnower.core.errors import WinnowerError
from winnower.core.learn.words import tokens_of
from winnower.core.places.stretches import as_places
from winnower.store.assisting import Looking
from winnower.store.codebook import Codebook, codebook_of
from winnower.store.questions import best, concepts_of, scored

EACH, MOST_NAMES, MOST_CODING, MOST_CODES = 3, 4, 12, 400
MOST_UNDER_CODE = 1_500
#: What is asked of each part of a research question, and words of which a sentence that answers it has one.
ASKED: tuple[tuple[str, str, tuple[str, ...]], ...] = (
    ("What is said of {}?", "{}", ()),
    (
        "Who speaks of {}, and to whom?",
        "{}: who speaks",
        ("said", "says", "told", "tells", "asked", "asks", "called", "claims", "claimed", "warned"),
    ),
    (
        "What reasons are given for {}?",
        "{}: reasons",
        ("because", "since", "therefore", "so", "why", "reason", "reasons", "due", "caused", "led"),
    ),
    (
        "What is wanted or feared of {}?",
        "{}: wanted or feared",
        ("should", "must", "need", "needs", "want", "wants", "demand", "hope", "fear", "afraid", "worry"),
    ),
)


def proposed(
    looking: Looking, passages: Callable[[], Passages], task: TopicName | Wordings | GroupsOfCodes | Codings
) -> Reply:
    """What the rules propose. Raises NotFound for a code that is gone, WinnowerError for what cannot be worked on."""
    if isinstance(task, TopicName):
        return _topic_names(looking, task)
    if isinstance(task, Wordings):
        return _wordings(looking, passages(), task)
    if isinstance(task, GroupsOfCodes):
        return _groups(looking, passages(), task)
    return _codings(looking, task)


def _reply(looking: Looking, proposals: Sequence[Proposal], how: str) -> Reply:
    return Reply(tuple(looking.quoted.values()), (), tuple(proposals), how)


def _topic_names(looking: Looking, task: TopicName) -> Reply:
    how = (
        "Looked for: sentences with two or more of the words of the topic. Names are made of what stands side by side in most "
        "of them, and of the words that are in most."
    )
    folds = looking.room.corpus.lexicon.numbers_of([word.casefold() for word in task.words])
    units = _with_several(looking, task.words)
    found = looking.sentences(units)
    if not len(found):
        return _reply(looking, (), how)
    return _reply(looking, _named(looking, found, "name", folds), how)


def _with_several(looking: Looking, words: Sequence[str]) -> np.ndarray:
    """Numbers of sentences with two different ones of the words."""
    index, units = looking.room.corpus.index, looking.units
    parts = []
    for word in words:
        places = looking.hits_of([word])
        parts.append(np.unique(units.spans(places, index)[0]) if places.hits else np.empty(0, np.int64))
    unit, times = np.unique(np.concatenate(parts), return_counts=True)
    found: np.ndarray = unit[times >= 2]
    return found


def _named(looking: Looking, found: Sentences, kind: str, folds: np.ndarray) -> list[Proposal]:
    """Names from pairs and words of some sentences; those of ``folds`` come first."""
    corpus = looking.room.corpus
    folds_of, n = corpus.lexicon.folds, len(corpus.lexicon)
    tokens = tokens_of(looking.units, found.at, corpus.index, corpus.lexicon)
    keys, rows = pairs_in(tokens, looking.functions, n)
    first, second = np.divmod(keys, n)
    folds = looking.together[folds]
    ours = np.isin(looking.together[first], folds) | np.isin(looking.together[second], folds)
    order = np.lexsort((-rows, ~ours))
    names = [f"{folds_of[int(first[at])]} {folds_of[int(second[at])]}" for at in order[:2] if rows[at] > 1]
    weight = np.asarray(found.weight.sum(0)).ravel()
    known = np.flatnonzero(np.isin(found.words.folds, folds)) if len(folds) else np.arange(len(weight))
    top = known[np.argsort(-weight[known], kind="stable")[:3]]
    words = [str(folds_of[int(found.words.folds[at])]) for at in top]
    if len(words) > 1:
        names += [f"{words[0]} and {words[1]}"]
    if len(words) > 2:
        names += [listed(words)]
    return _with_passages(looking, found, kind, names)


def _with_passages(looking: Looking, found: Sentences, kind: str, names: Sequence[str]) -> list[Proposal]:
    proposals = []
    for name in list(dict.fromkeys(names))[:MOST_NAMES]:
        words = [word for word in name.replace(",", " ").split() if word != "and"]
        numbers = looking.together[looking.room.corpus.lexicon.numbers_of(words)]
        columns = np.flatnonzero(np.isin(found.words.folds, numbers))
        has = (
            np.asarray((found.counts[:, columns] > 0).sum(1)).ravel()
            if len(columns)
            else np.zeros(len(found))
        )
        most = int(has.max(initial=0))
        chosen = varied(found, np.where(has == most, central(found), 0.0), EACH) if most else []
        cited = looking.quote(found.at[chosen])
        which = {1: "it", 2: "both words"}.get(most, f"{most} of its words")
        why = f"{int((has == most).sum()):,} of {len(found):,} sentences looked at have {which}."
        if cited:
            proposals.append(
                Proposal(
                    "wording" if kind == "wording" else "name",
                    capital(name),
                    why,
                    tuple(one.number for one in cited),
                )
            )
    return proposals


def _wordings(looking: Looking, passages: Passages, task: Wordings) -> Reply:
    book = codebook_of(looking.room.session, looking.room.project.id)
    code = book.code(task.code)
    how = (
        f"Looked at: sentences under “{code.name}” and as many others, spread evenly. Wordings are made of the words that are "
        "typical of what stands under the code (log odds, Monroe and others 2008), and of what stands side by side there."
    )
    under = _under(looking, passages, book.tree.below(code.id))
    if not len(under):
        return _reply(looking, (), f"{how} {NOT_TOLD} Nothing stands under this code in the scope.")
    rest = np.setdiff1d(looking.within(), under, assume_unique=True)
    both = np.union1d(under, spread(fit_to_quote(looking.units, rest), max(len(under), 200)))
    found = looking.sentences(both, 2 * MOST_UNDER_CODE + 200)
    inside = np.isin(found.at, under)
    ours, others = found.some(inside), found.some(~inside)
    if not len(ours):
        return _reply(looking, (), how)
    z = telling(ours.counts, others.counts)
    strong = np.argsort(-z, kind="stable")[:40]
    folds = found.words.folds[strong[z[strong] > TELLING]]
    proposals = [
        one for one in _named(looking, ours, "wording", folds) if one.words.casefold() != code.name.casefold()
    ]
    return _reply(looking, proposals, how)


def _under(looking: Looking, passages: Passages, codes: set[int]) -> np.ndarray:
    """Numbers of sentences of the scope that passages under some codes touch, spread evenly where they are many."""
    some = passages.taken(spread(passages.under(codes), MOST_UNDER_CODE))
    corpus = looking.room.corpus
    place = corpus.places_of(some.text_id)
    some, place = some.taken(place >= 0), place[place >= 0]
    places = as_places(place, some.start, some.end, corpus.index)
    touched = np.flatnonzero(looking.units.touched(places, corpus.index))
    found: np.ndarray = np.intersect1d(touched, looking.within(), assume_unique=True)
    return found


def _groups(looking: Looking, passages: Passages, task: GroupsOfCodes) -> Reply:
    book = codebook_of(looking.room.session, looking.room.project.id)
    above = {row.parent_id for row in book.codes}
    wanted = set(task.codes) or {row.id for row in book.codes if not row.technical and row.id not in above}
    rows = [row for row in book.codes if row.id in wanted]
    if len(rows) > MOST_CODES:
        raise WinnowerError(
            f"These are {len(rows):,} codes; {MOST_CODES} at most are grouped at once. Choose some."
        )
    how = (
        "Codes are alike by what is said of them (letters of names, descriptions and rules) and by the texts they stand in "
        "(cosine of both, in equal parts); groups by complete linkage (Sørensen 1948)."
        + (" A code is in another group too where it is nearly as close to it." if task.several else "")
    )
    codes = [_code_words(book, passages, row.id) for row in rows]
    proposals = []
    for group in grouped(codes, several=task.several):
        names = [codes[at].name for at in group.codes]
        one, other = (codes[at] for at in group.closest)
        shared = np.intersect1d(one.texts, other.texts, assume_unique=True)
        cited = _examples(looking, passages, book, (one.id, other.id), shared)
        why = f"{listed(names)}. {one.name} and {other.name} are the closest"
        why += f"; they share {len(shared):,} text{'s' if len(shared) > 1 else ''}." if len(shared) else "."
        proposals.append(Proposal("group", group.name, why, cited, tuple(codes[at].id for at in group.codes)))
    return _reply(looking, proposals, how)


def _code_words(book: Codebook, passages: Passages, code_id: int) -> CodeWords:
    row = book.code(code_id)
    parent = book.code(row.parent_id).name if row.parent_id is not None else ""
    texts = np.unique(passages.text_id[passages.under(book.tree.below(code_id))])
    return CodeWords(row.id, row.name, parent, f"{row.description} {row.rule} {row.example}", texts)


def _examples(
    looking: Looking, passages: Passages, book: Codebook, codes: tuple[int, int], shared: np.ndarray
) -> tuple[int, ...]:
    """A passage of each of two codes in the first text they share."""
    if not len(shared):
        return ()
    numbers = []
    for code in codes:
        at = passages.under(book.tree.below(code))
        one = at[passages.text_id[at] == shared[0]][:1]
        some = passages.taken(one)
        place = looking.room.corpus.places_of(some.text_id)
        if len(place) and place[0] >= 0:
            corpus = looking.room.corpus
            places = as_places(place, some.start, some.end, corpus.index)
            first = looking.units.spans(places, corpus.index)[0]
            numbers += [cited.number for cited in looking.quote(first)]
    return tuple(dict.fromkeys(numbers))


def _codings(looking: Looking, task: Codings) -> Reply:
    concepts = concepts_of(looking, task.question)
    how = (
        "The question is parted into questions by its content words and by what can be asked of each: what is said, by whom, "
        "for what reasons, what is wanted or feared. Sentences with the words, in all their forms, are ordered by how much "
        "they have of the whole question (BM25, Robertson and Zaragoza 2009); of those that say the same one is shown."
    )
    proposals: list[Proposal] = []
    used: set[int] = set()
    asked = [one for one in concepts[:4] if one.forms]
    every = scored(looking, concepts) if asked else np.empty(0)
    has = {cues: _has(looking, cues) for _, _, cues in ASKED if cues and asked}
    for concept in asked:
        whole = scored(looking, [concept])
        for question, name, cues in ASKED:
            score = np.where(whole > 0, whole + every, 0)
            if cues:
                score[~has[cues]] = 0
            score[list(used)] = 0
            found = looking.sentences(best(looking, score, MOST_CODING * 12))
            top = found.at[varied(found, score[found.at], MOST_CODING)].tolist() if len(found) else []
            if len(top) < 2:
                continue
            used.update(top)
            cited = looking.quote(sorted(top))
            why = question.format(concept.word)
            proposals.append(
                Proposal(
                    "coding", capital(name.format(concept.word)), why, tuple(one.number for one in cited)
                )
            )
    return _reply(looking, proposals, how)


def _has(looking: Looking, words: Sequence[str]) -> np.ndarray:
    """bool per sentence: one of the words stands in it."""
    places = looking.hits_of(words)
    found = np.zeros(len(looking.units), bool)
    if places.hits:
        found[looking.units.spans(places, looking.room.corpus.index)[0]] = True
    return found
