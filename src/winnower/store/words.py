"""The language of a project, its stop list, and suggestions that were dismissed."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache

from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict, WinnowerError
from winnower.core.tokens import fold
from winnower.core.tokens.elision import ELIDED
from winnower.core.tokens.lemmas import LEMMA_LANGUAGES, STEM_LANGUAGES
from winnower.store.history import Recorder
from winnower.store.models import DismissedSuggestion, StopWord, WordSetting

DEFAULT_LANGUAGE = "en"
NO_LANGUAGE = "none"


#: Languages whose stop list stands under another code: both written forms of Norwegian.
_LIST_OF = {"nb": "no", "nn": "no"}


@cache
def list_languages() -> tuple[str, ...]:
    """ISO 639-1 codes of the languages with a shipped stop list."""
    import stopwordsiso

    return tuple(sorted({*stopwordsiso.langs(), *_LIST_OF}))


@cache
def shipped_list(language: str) -> frozenset[str]:
    """The stop list that ships for a language, folded, with its elided words; empty where there is none."""
    import stopwordsiso

    if language not in list_languages():
        return frozenset()
    elided = {f"{word}'" for word in ELIDED.get(language, ())}
    words = stopwordsiso.stopwords(_LIST_OF.get(language, language))
    return frozenset(fold(word) for word in words) | elided


def known_languages() -> tuple[str, ...]:
    """Languages with a stop list, lemmas or stems."""
    return tuple(sorted({*list_languages(), *LEMMA_LANGUAGES, *STEM_LANGUAGES}))


def language_of(session: Session, project_id: int) -> str:
    """The language chosen for the project; "none" for a project that wants no list."""
    row = session.scalar(select(WordSetting).where(WordSetting.project_id == project_id))
    return row.language if row is not None and row.language else DEFAULT_LANGUAGE


def choose_language(recorder: Recorder, language: str, seen: str) -> None:
    """Raises WinnowerError for a language nothing is known about, Conflict where it is no longer ``seen``."""
    if language != NO_LANGUAGE and language not in known_languages():
        raise WinnowerError(f"There is no word list for the language “{language}”.")
    held = select(WordSetting).where(WordSetting.project_id == recorder.project_id).with_for_update()
    row = recorder.session.scalar(held)
    now = language_of(recorder.session, recorder.project_id)
    if now != seen:
        raise Conflict("Somebody chose another language in the meantime.", {"language": now, "seen": now})
    if row is None:
        recorder.insert(WordSetting(project_id=recorder.project_id, language=language))
    elif row.language != language:
        recorder.update(row, {"language": language})


def stop_words(session: Session, project_id: int) -> frozenset[str]:
    """What word lists of the project leave out."""
    added, kept = own_stop_words(session, project_id)
    return (shipped_list(language_of(session, project_id)) | added) - kept


def own_stop_words(session: Session, project_id: int) -> tuple[frozenset[str], frozenset[str]]:
    """Forms the project added to the shipped list, and forms it took off."""
    rows = session.execute(
        select(StopWord.form, StopWord.listed).where(StopWord.project_id == project_id)
    ).all()
    return (
        frozenset(form for form, listed in rows if listed),
        frozenset(form for form, listed in rows if not listed),
    )


def list_words(recorder: Recorder, forms: Iterable[str], listed: bool) -> int:
    """Put forms on the stop list, or take them off; how many changed."""
    session, changed = recorder.session, 0
    wanted = [form for form in dict.fromkeys(fold(form.strip()) for form in forms) if form]
    if any(len(form) > 120 for form in wanted):
        raise WinnowerError("A stop word can have at most 120 characters.")
    known = {
        row.form: row
        for row in session.scalars(
            select(StopWord).where(StopWord.project_id == recorder.project_id, StopWord.form.in_(wanted))
        )
    }
    shipped = shipped_list(language_of(session, recorder.project_id))
    for form in wanted:
        row = known.get(form)
        needed = (form in shipped) != listed  # the shipped list says it already otherwise
        if row is not None and not needed:
            recorder.delete(row)
        elif row is not None and bool(row.listed) != listed:
            recorder.update(row, {"listed": listed})
        elif row is None and needed:
            recorder.insert(StopWord(project_id=recorder.project_id, form=form, listed=listed))
        else:
            continue
        changed += 1
    return changed


def dismissed(session: Session, category_id: int) -> frozenset[str]:
    return frozenset(
        session.scalars(
            select(DismissedSuggestion.form).where(DismissedSuggestion.category_id == category_id)
        )
    )


def dismiss(recorder: Recorder, category_id: int, form: str) -> None:
    """Do not offer a form for a category again."""
    form = fold(form.strip())[:200]
    if form and form not in dismissed(recorder.session, category_id):
        recorder.insert(
            DismissedSuggestion(
                project_id=recorder.project_id,
                category_id=category_id,
                form=form,
                made_by=recorder.account_id,
            )
        )
