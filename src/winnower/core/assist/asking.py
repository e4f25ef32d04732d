"""What a question asks for: its content words, the names among them, and what an answer must hold.

Read by rule from the question alone: a question word tells whether a number, a time or a reason is wanted, and
``answers_kind`` whether a sentence has one. Six languages of the press; in others any sentence with the words answers.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection
from dataclasses import dataclass
from typing import Literal, Protocol

from winnower.core.assist.wordlists import CALENDAR, FUNCTIONS, GENERIC, OF_TELLING, PERSONS, PLURALS, Measure
from winnower.core.tokens.forms import fold

Kind = Literal["number", "time", "reason", "person", "place", "view", "anything"]

_WORD = re.compile(r"\w(?:[\w'’-]*\w)?")
_MANY = re.compile(
    r"\b(?:how many|how few|what number of|number of|wie viele|wieviele|combien d[e']|cuántos|cuántas|quanti|quante|hoeveel)\b",
    re.IGNORECASE,
)
_MEASURES: tuple[tuple[str, Measure], ...] = (
    (
        r"\bhow long\b|\bhow many (?:years|months|weeks|days|hours|minutes)\b|\bwie lange\b|\bhoe lang\b",
        "duration",
    ),
    (r"\bhow old\b|\bwhat age\b|\bwie alt\b|\bhoe oud\b|\bquel âge\b", "age"),
    (r"\bhow (?:far|high|tall|deep|wide|large|big)\b|\bwie (?:weit|hoch|tief|groß)\b", "length"),
    (r"\b(?:what|which) (?:share|percentage|proportion|per cent|percent)\b|\bwelcher anteil\b", "share"),
    (
        r"\bhow much money\b|\bhow much\b.*\b(?:costs?|pay|pays|paid|worth|price|fined?|spend|spent|earn|earned|charged?|owes?|lost|lose|fund"
        r"|compensation|grant|fee|fees|wages?|sold|sell|buy|bought)\b|\bwhat (?:price|sum)\b",
        "money",
    ),
    (r"\bhow (?:much|often|heavy|fast)\b|\bcombien\b|\bwie ?viel\b|\bcuánto\b|\bcuánta\b|\bquanto\b", "any"),
)
_WHEN = re.compile(
    r"^\W*(?:since |until |from |by )?(?:when|what (?:year|day|date|month|time)|which (?:year|day|date|month)|on (?:what|which) (?:day|date)"
    r"|in (?:what|which) (?:year|month)|wann|quand|cuándo|quando|wanneer)\b",
    re.IGNORECASE,
)
_POSSESSIVE = re.compile(r"['’]s?$")
_HELPS = re.compile(r" (?:has|had|have|is|was|will|would|said|says)\b")
#: What is asked for is not looked for: "on what day", "how much money", "what share".
_ASKED_OF = re.compile(
    r"\b(?:what|which) (?:day|date|year|month|time|week|share|percentage|proportion|sum|price|age|number)\b(?: of)?|\bhow much money\b",
    re.IGNORECASE,
)
_WHERE = re.compile(
    r"^\W*(?:(?:from|to) )?(?:where|wo|woher|wohin|où|dónde|adónde|dove|waar)\b", re.IGNORECASE
)
_AT = re.compile(
    r"\b(?:in|at|on|near|above|below|between|outside|inside|behind|beside|beyond|by|to|from|through|into|off|under|over|across|along|round)\b"
    r"((?: [\w'’-]+){1,5})"
)
_WHO = re.compile(r"^\W*(?:(?:by|to|from|with|for) )?(?:who|whom|whose)\b", re.IGNORECASE)
_KNOWN = re.compile(r"\W*(?:the|der|die|das|le|la|les|el|los|las|il|lo|gli|de|het)\b", re.IGNORECASE)
_SPEECH = re.compile(r"[“”„«»\"]|\b(?:I|we|my|our|us|me|ich|wir|je|nous|yo|io|noi|ik|wij)\b")
_VIEW = re.compile(
    r"\b(?:does|do|did|has|have|had)\b.*\b(?:think|thought|say|said|tell|told|believe|feel|felt|claim|argue|call|opinion)\b",
    re.IGNORECASE,
)
_SAYS = re.compile(
    r"\b(?:he|she|they) (?:\w+ )?(?:said|says|told|tells|thinks|thought|believes|believed|feels|felt|claims|claimed|argues|"
    r"argued|called|calls|reckons|writes|wrote)\b",
    re.IGNORECASE,
)
#: "How is the licence discussed?" asks for all that is said.
_HOW_SAID = re.compile(r"^\W*how (?:is|are|was|were|do|does|did)\b", re.IGNORECASE)
_WHY = re.compile(
    r"^\W*(?:why|for what reason|what (?:is|was|are|were) the reasons?|warum|weshalb|wieso|pourquoi|por qué|perché|waarom)\b",
    re.IGNORECASE,
)
_TIME = re.compile(
    r"\b(?:january|february|march|april|may|june|july|august|september|october|november|december|monday|tuesday|wednesday|"
    r"thursday|friday|saturday|sunday|yesterday|today|tomorrow|tonight|morning|afternoon|evening|night|dawn|dusk|noon|"
    r"midnight|spring|summer|autumn|winter|weekend|christmas|easter|week|weeks|month|months|year|years|o['’]clock|ago|"
    r"januar|februar|märz|mai|juni|juli|oktober|dezember|montag|dienstag|mittwoch|donnerstag|freitag|samstag|sonntag|gestern|"
    r"heute|morgen|jahr|woche|monat|frühling|sommer|herbst|janvier|février|mars|avril|juin|juillet|août|septembre|octobre|"
    r"novembre|décembre|lundi|mardi|mercredi|jeudi|vendredi|samedi|dimanche|hier|demain|semaine|mois|année|enero|febrero|"
    r"marzo|abril|mayo|junio|julio|agosto|septiembre|octubre|noviembre|diciembre|lunes|martes|miércoles|jueves|viernes|"
    r"sábado|domingo|ayer|gennaio|febbraio|aprile|maggio|giugno|luglio|settembre|ottobre|dicembre|lunedì|martedì|mercoledì|"
    r"giovedì|venerdì|sabato|domenica|ieri|maandag|dinsdag|woensdag|donderdag|vrijdag|zaterdag|zondag|gisteren|"
    r"1[5-9]\d\d|20\d\d)\b|\b\d{1,2}[.:]\d\d\b",
    re.IGNORECASE,
)
_REASON = re.compile(
    r"\b(?:because|since|so that|due to|owing to|thanks to|reasons?|in order|therefore|which is why|that is why|caused|led to|"
    r"after|for fear|weil|denn|wegen|damit|deshalb|aufgrund|parce que|car|puisque|afin|à cause|porque|pues|debido|perché|"
    r"poiché|a causa|omdat|vanwege)\b",
    re.IGNORECASE,
)
_PRONOUN = re.compile(
    r"\b(?:others?|another|former|latter|same|rest|it|its|they|them|their|he|him|his|she|her|this|that|these|those|there|both|one|er|sie|es|ihr|ihre|ihn|diese|dieser|"
    r"il|elle|ils|elles|ce|cette|ces|ello|esto|eso|essi|esso|questo|hij|zij|het|dit|dat)\b",
    re.IGNORECASE,
)


@dataclass(frozen=True)
class Asked:
    """A question, read: ``words`` its content words (folded, each once, in their order), ``names`` those of them that are
    names or numbers, ``counted`` the one that is to be counted ("" for none), ``beside`` words that questions are made of."""

    kind: Kind
    measure: Measure
    words: tuple[str, ...]
    beside: tuple[str, ...]
    names: frozenset[str]
    counted: str


def read_question(question: str, stop: Collection[str]) -> Asked:
    """What a question asks for; ``stop`` are the folded words that carry no content in the language of the texts."""
    found = [
        (match, _POSSESSIVE.sub("", fold(match.group())))
        for match in _WORD.finditer(_ASKED_OF.sub(_blanked, question))
    ]
    first = found[0][0].start() if found else 0

    of_questions = GENERIC | OF_TELLING if _HOW_SAID.search(question) else GENERIC

    months = {fold(match.group()) for match, _ in found if match.group()[0].isupper()} & CALENDAR

    def is_content(word: str) -> bool:
        if word in months and word in stop:
            return True  # the month of May
        return word not in stop and word not in of_questions and (len(word) > 1 or word.isdigit())

    content = [(match, word) for match, word in found if is_content(word)]
    names = frozenset(
        word
        for match, word in content
        if word[0].isdigit() or (match.group()[0].isupper() and match.start() != first)
    )
    kind, measure = _kind(question)
    if kind == "anything" and names and _VIEW.search(question):
        kind = "view"
    many = _MANY.search(question)
    counted = ""
    if kind == "number" and not measure and many:
        after = [(match.start(), word) for match, word in found if match.start() >= many.end()]
        counted = _counted([word for _, word in after], stop)
    words = tuple(dict.fromkeys(word for _, word in found if is_content(word) or word == counted))
    beside = tuple(dict.fromkeys(word for _, word in found if word in of_questions and word not in words))
    return Asked(kind, measure, words, beside, names, counted)


def _blanked(match: re.Match[str]) -> str:
    return " " * len(match.group())


def _kind(question: str) -> tuple[Kind, Measure]:
    for pattern, measure in _MEASURES[:4]:
        if re.search(pattern, question, re.IGNORECASE):
            return "number", measure
    if _MANY.search(question):
        return "number", ""
    for pattern, measure in _MEASURES[4:]:
        if re.search(pattern, question, re.IGNORECASE):
            return "number", measure
    if _WHEN.search(question):
        return "time", ""
    if _WHERE.search(question):
        return "place", ""
    if _WHO.search(question):
        return "person", ""
    return ("reason", "") if _WHY.search(question) else ("anything", "")


def _counted(after: list[str], stop: Collection[str]) -> str:
    """Of the words after "how many" those up to the first that carries no content are the thing; its first plural is
    counted ("how many dead lambs lay there")."""
    run: list[str] = []
    for word in after:
        if word not in stop:
            run.append(word)
        elif run:
            break
    plural = next((word for word in run if word in PLURALS or (len(word) > 3 and word.endswith("s"))), "")
    return plural or (run[0] if run else "")


class Known(Protocol):
    """What a word list knows of nouns (readers/thesaurus.py)."""

    def is_person(self, word: str) -> bool: ...

    def is_place(self, word: str) -> bool: ...


def answers_kind(asked: Asked, words: str, around: str, nouns: Known | None) -> bool:
    """Whether a sentence has what is asked for, ``around`` being itself with the one before and the one after. A
    sentence that asks answers nothing; numbers are looked at by ``amounts``. ``nouns`` tells of
    words whether they name people or places; None where no word list does."""
    if words.rstrip("”’\"')").endswith("?"):
        return False
    if asked.kind == "time":
        return bool(_TIME.search(words))
    if asked.kind == "reason":
        return tells_reason(around)
    if asked.kind == "view":
        named = any(fold(match.group()) in asked.names for match in _WORD.finditer(words))
        return named or bool(_SAYS.search(words)) or is_speech(words)
    if asked.kind == "person" and nouns is not None:
        return _has_person(words, asked.words, nouns.is_person)
    if asked.kind == "place" and nouns is not None:
        return _has_place(words, asked.words, nouns.is_place)
    return True


def _has_person(words: str, known: Collection[str], is_person: Callable[[str], bool]) -> bool:
    """Whether a sentence names somebody who was not named in the question: by a word with a capital, or by a kind of
    people."""
    for at, match in enumerate(_WORD.finditer(words)):
        plain = fold(match.group())
        if plain not in known and (
            plain in PERSONS
            or is_person(plain)
            or (match.group()[0].isupper() and (at or _is_subject(words, match)))
        ):
            return True
    return False


def _is_subject(words: str, match: re.Match[str]) -> bool:
    """Whether the first word of a sentence is a name: what follows is a verb of help ("Rakes has moved")."""
    return fold(match.group()) not in FUNCTIONS | GENERIC and bool(_HELPS.match(words, match.end()))


def _has_place(words: str, known: Collection[str], is_place: Callable[[str], bool]) -> bool:
    """Whether a sentence names a place that was not named in the question, after "in" and its like."""
    for found in _AT.finditer(words):
        for match in _WORD.finditer(found.group(1)):
            plain = fold(match.group())
            if (
                plain not in known
                and (match.group()[0].isupper() or is_place(plain))
                and plain not in CALENDAR
            ):
                return True
    return False


def tells_reason(words: str) -> bool:
    """Whether a sentence has a word that gives a reason."""
    return bool(_REASON.search(words))


def refers_back(words: str) -> bool:
    """Whether a sentence has a word that stands for something said before it, or begins with what is known already."""
    return bool(_PRONOUN.search(words) or _KNOWN.match(words))


def is_speech(words: str) -> bool:
    """Whether a sentence is in somebody's words, so that who says it may be named after it."""
    return bool(_SPEECH.search(words))
