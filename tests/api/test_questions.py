"""Questions over the texts of the valley's papers: answered with the passages that tell, or not at all."""

import pytest

from tests.api.test_findings import ask
from tests.api.valley_press import ARTICLES
from tests.api.valley_questions import (
    ANSWERABLE,
    FOURTH_ANSWERABLE,
    FOURTH_UNANSWERABLE,
    FURTHER_ANSWERABLE,
    FURTHER_UNANSWERABLE,
    MORE_ANSWERABLE,
    MORE_UNANSWERABLE,
    UNANSWERABLE,
)
from tests.conftest import write_table


@pytest.fixture
def asked(client, at, deliver, tmp_path):
    rows = [
        [str(number), title, source, date, words, "", ""]
        for number, (title, source, date, words) in enumerate(ARTICLES)
    ]
    deliver(write_table(tmp_path / "press.csv", rows))
    return lambda words: ask(
        client, at, "assistant/ask", 200, task={"task": "question", "words": words}, scope=[], by="rules"
    )


@pytest.mark.parametrize(
    ("answerable", "unanswerable"),
    [
        (ANSWERABLE, UNANSWERABLE),
        (MORE_ANSWERABLE, MORE_UNANSWERABLE),
        (FURTHER_ANSWERABLE, FURTHER_UNANSWERABLE),
        (FOURTH_ANSWERABLE, FOURTH_UNANSWERABLE),
    ],
    ids=["first", "more", "further", "fourth"],
)
def test_what_the_texts_tell_is_answered_and_what_they_do_not_tell_is_not(asked, answerable, unanswerable):
    wrong = []
    for words, right in answerable:
        reply = asked(words)
        cited = [one["words"] for one in reply["passages"]]
        if not any(part in passage for part in right for passage in cited):
            wrong.append((words, cited or reply["how"]))
    told = [(words, [one["words"] for one in asked(words)["statements"]]) for words in unanswerable]
    told = [one for one in told if one[1]]
    assert len(wrong) <= 5 and not told, "\n".join(map(str, [len(wrong), *wrong, "told:", *told]))
