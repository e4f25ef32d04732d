"""Words of scripts that are written without spaces, by ICU's dictionaries: Chinese, Japanese, Thai, Lao, Khmer, Burmese.

ICU (International Components for Unicode, Unicode Standard Annex 29) finds the words of a run of such characters; the
dictionary goes by the script, so that nobody has to say in which language a text is.
"""

from __future__ import annotations

from functools import cache
from typing import Any

#: The breaker's rules for these scripts are the same in every locale.
_LOCALE = "en"


def words_of_run(run: str) -> list[str]:
    """The words of a run of characters, one after the other; joined they are the run.

    >>> words_of_run("狼今天回到了山谷")
    ['狼', '今天', '回到', '了', '山谷']
    """
    return [run] if len(run) == 1 else list(_breaker()(run, _LOCALE))


@cache
def _breaker() -> Any:
    from icu4py.breakers import WordBreaker  # its data are read when such a script is met first

    return WordBreaker
