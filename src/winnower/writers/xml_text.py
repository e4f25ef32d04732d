"""Words as XML 1.0 can hold them: files of Word, pictures as SVG and what is made of them break on any other sign."""

from __future__ import annotations

import re
from dataclasses import replace

from winnower.core.finding import Answer, Sheet

#: Signs that XML 1.0 has no way to write.
UNFIT = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff\ufffe\uffff]")
#: Stands for such a sign where it should be seen that there was one.
SHOWN_AS = "\ufffd"


def xml_text(words: str, shown_as: str = "") -> str:
    """Words without signs that XML cannot hold, or with another one in their place."""
    return UNFIT.sub(shown_as, words)


def xml_answer(answer: Answer) -> Answer:
    """An answer whose words XML can hold; names that differ by such a sign only stay different in number of signs."""
    return replace(
        answer,
        name=xml_text(answer.name, SHOWN_AS),
        base=xml_text(answer.base, SHOWN_AS),
        sheets=tuple(_sheet(sheet) for sheet in answer.sheets),
    )


def _sheet(sheet: Sheet) -> Sheet:
    return replace(
        sheet,
        columns=tuple(replace(column, name=xml_text(column.name, SHOWN_AS)) for column in sheet.columns),
        rows=tuple(
            tuple(xml_text(cell, SHOWN_AS) if isinstance(cell, str) else cell for cell in row)
            for row in sheet.rows
        ),
    )
