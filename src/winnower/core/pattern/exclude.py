"""Leave a form out of what a term catches."""

from __future__ import annotations

from dataclasses import replace

from winnower.core.pattern.parse import parse_term
from winnower.core.pattern.term import Choice, Condition, Piece, Term, in_a_row
from winnower.core.pattern.write import write_term


def exclude_form(term: Term, form: str) -> Term:
    """The term without hits that are, or lie in, this form (words parted by spaces).

    Forms left out earlier stay so. Raises TermError where the term becomes too long.
    """
    sequence = in_a_row(tuple(Piece(word) for word in form.split()))
    for at, condition in enumerate(term.conditions):
        if condition.relation == "part-of":
            options = tuple(dict.fromkeys((*condition.what.options, sequence)))
            grown = replace(condition, what=Choice(options))
            conditions = (*term.conditions[:at], grown, *term.conditions[at + 1 :])
            break
    else:
        conditions = (*term.conditions, Condition("part-of", None, True, Choice((sequence,))))
    return parse_term(write_term(replace(term, conditions=conditions)))
