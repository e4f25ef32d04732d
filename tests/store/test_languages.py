"""What ships for a language, and that the help says so."""

from pathlib import Path

from babel import Locale, UnknownLocaleError

from winnower.core.tokens.elision import ELIDED
from winnower.core.tokens.lemmas import LEMMA_LANGUAGES, STEM_LANGUAGES
from winnower.store.words import list_languages, shipped_list

HELP = Path(__file__).resolve().parents[2] / "docs" / "help" / "words.md"


def test_the_table_of_languages_in_the_help_says_what_ships():
    section = HELP.read_text().split("## Languages")[1].split("\n## ")[0]
    rows = [
        [cell.strip() for cell in line.strip("| ").split("|")]
        for line in section.splitlines()
        if line.startswith("| ")
    ][1:]
    codes = {
        Locale.parse(code).get_display_name("en"): code
        for code in {*LEMMA_LANGUAGES, *list_languages()}
        if _is_known(code)
    }
    assert len(rows) >= 30
    for name, lemmas, stems, stops, parted in rows:
        code = codes[name]
        said = [cell == "✓" for cell in (lemmas, stems, stops)]
        assert said == [code in LEMMA_LANGUAGES, code in STEM_LANGUAGES, code in list_languages()], name
        assert ("elided" in parted) == (code in ELIDED), name


def _is_known(code):
    try:
        return bool(Locale.parse(code))
    except (UnknownLocaleError, ValueError):
        return False


def test_elided_words_are_on_the_stop_list_and_norwegian_has_one():
    assert {"l'", "d'", "qu'"} <= shipped_list("fr") and "dell'" in shipped_list("it")
    assert "l'" not in shipped_list("en")
    assert shipped_list("nb") == shipped_list("nn") == shipped_list("no") != frozenset()
