"""Forms of one word brought together: by lemma from word lists, or by stem from rules.

Lemmas come from simplemma's word lists, stems from the Snowball rules (Porter 2001). Both look at a
word without its sentence: "left" is one lemma whatever it means there.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache, lru_cache
from typing import Any

from winnower.core.errors import WinnowerError
from winnower.core.tokens.forms import fold

#: ISO 639-1 codes with a list of lemmas.
LEMMA_LANGUAGES = (
    "bg", "ca", "cs", "cy", "da", "de", "el", "en", "es", "et", "fa", "fi", "fr", "ga", "gl", "hi", "hu",
    "id", "is", "it", "la", "lb", "lt", "lv", "mk", "ms", "nb", "nl", "nn", "pl", "pt", "ro", "ru", "sk",
    "sl", "sq", "sv", "sw", "tl", "tr", "uk",
)  # fmt: skip
#: ISO 639-1 codes with stemming rules, and what the rules call them.
STEM_LANGUAGES = {
    "ar": "arabic", "eu": "basque", "ca": "catalan", "da": "danish", "nl": "dutch", "en": "english",
    "fi": "finnish", "fr": "french", "de": "german", "el": "greek", "hi": "hindi", "hu": "hungarian",
    "id": "indonesian", "ga": "irish", "it": "italian", "lt": "lithuanian", "nb": "norwegian",
    "ne": "nepali", "pt": "portuguese", "ro": "romanian", "ru": "russian", "sr": "serbian",
    "es": "spanish", "sv": "swedish", "ta": "tamil", "tr": "turkish",
}  # fmt: skip
#: Languages whose lists hold nouns with a capital.
NOUNS_HAVE_CAPITALS = ("de", "lb")
WAYS = ("lemma", "stem")


def brought_together(forms: Sequence[str], language: str, way: str) -> list[str]:
    """For each form (folded) the lemma or stem that stands for it; tokens that are no words stay.

    Raises WinnowerError where the language has no such list or rules.
    """
    if way == "lemma":
        return [lemma_of(form, language) for form in forms]
    if way == "stem" and language in STEM_LANGUAGES:
        stemmer = _stemmer(language)
        return [stemmer.stemWord(form) if form.isalpha() else form for form in forms]
    raise WinnowerError(f"There are no rules for stems in the language “{language}”.")


@lru_cache(maxsize=600_000)
def lemma_of(form: str, language: str) -> str:
    """The lemma of one form, folded; the form itself where the list does not know it."""
    if language not in LEMMA_LANGUAGES:
        raise WinnowerError(f"There is no list of word forms for the language “{language}”.")
    if not any(c.isalpha() for c in form) or form[0] in "#@" or "/" in form:
        return form
    # folded, a noun would be taken for a verb: wolf for "wolfen"
    if language in NOUNS_HAVE_CAPITALS and _is_known(form.capitalize(), language):
        form = form.capitalize()
    return fold(_lemmatizer().lemmatize(form, language))


@lru_cache(maxsize=100_000)
def is_listed(form: str, language: str) -> bool:
    """Whether the word list of a language knows the form; False for languages without a list."""
    if language not in LEMMA_LANGUAGES:
        return False
    return _is_known(form, language) or _is_known(form.capitalize(), language)


def _is_known(form: str, language: str) -> bool:
    from simplemma import is_known  # its lists are read when a lemma is wanted first

    return bool(is_known(form, language))


@cache
def _lemmatizer() -> Any:
    from simplemma import Lemmatizer

    return Lemmatizer()


@cache
def _stemmer(language: str) -> Any:
    import snowballstemmer

    return snowballstemmer.stemmer(STEM_LANGUAGES[language])
