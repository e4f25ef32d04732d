"""Codebooks from tables and the exchange format: layouts, loops, depths, doubles, groups."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.coding.codebook_table import codebook_from_rows
from winnower.core.errors import WinnowerError
from winnower.core.tree import MAX_NAME
from winnower.readers.codebook_file import parted, read_codebook_bytes


def read(columns, *rows, head=None):
    return codebook_from_rows(columns, list(enumerate(rows, 2)), head)


def paths(found):
    return [" > ".join(one.path) for one in found.codes]


def test_a_path_in_one_column_and_a_column_for_each_level_say_the_same():
    one = read(["Code", "Definition"], ["A > B", "b"], ["A", "a"], ["C", ""])
    several = read(["level 1", "Level 2", "definition"], ["A", "B", "b"], ["A", "", "a"], ["C", "", ""])
    assert paths(one) == paths(several) == ["A", "A > B", "C"]
    assert {one.path: one.values for one in one.codes} == {one.path: one.values for one in several.codes}
    assert one.doubles == several.doubles == 0


def test_a_column_that_names_the_parent():
    found = read(["code", "parent"], ["B", "A"], ["A", ""], ["C", "B"])
    assert paths(found) == ["A", "A > B", "A > B > C"]


def test_a_code_in_itself_is_refused_and_the_others_taken():
    found = read(["code", "parent"], ["A", "B"], ["B", "A"], ["C", ""], ["D", "D"])
    assert paths(found) == ["C"]
    assert [row for row, _ in found.refused] == [2, 3, 5]
    assert all("lies in itself" in reason for _, reason in found.refused)


def test_what_cannot_be_taken_is_told_by_its_row():
    deep = " > ".join("abcdefghijkl")
    found = read(["code"], [deep], ["A >  > B"], ["x" * (MAX_NAME + 1)], ["Good"], [""])
    assert paths(found) == ["Good"]
    reasons = dict(found.refused)
    assert "12 levels deep" in reasons[2] and "no name" in reasons[3] and str(MAX_NAME + 1) in reasons[4]
    with pytest.raises(WinnowerError, match="No row of the file"):
        read(["code"], [deep])
    with pytest.raises(WinnowerError, match="No column of the file holds codes"):
        read(["colour", "what"], ["1", "2"], head=True)


def test_without_a_head_the_first_row_is_a_code():
    found = read(["Losses", "What it cost", "x"], ["Costs", "Feed", ""])
    assert paths(found) == ["Losses", "Costs"] and found.codes[0].groups == ("Column 3",)
    assert read(["code", "description"], ["Costs", "Feed"], head=False).codes[0].path == ("code",)


def test_other_columns_are_groups_and_counts_are_passed_over():
    found = read(
        ["code", "Money", "passages", "texts", "level"], ["A", "x", "4", "3", "1"], ["B", "no", "", "", "1"]
    )
    assert found.groups == ("Money",) and [one.groups for one in found.codes] == [("Money",), ()]
    assert found.without_groups().groups == ()


def test_a_code_twice_is_taken_once_with_all_that_is_said():
    found = read(["code", "description", "rule", "G"], ["A", "first", "", "x"], ["A", "second", "when", ""])
    (one,) = found.codes
    assert (one.values, one.groups, found.doubles) == ({"description": "first", "rule": "when"}, ("G",), 1)


names = st.text("abc ", min_size=1, max_size=4).map(str.strip).filter(bool)


@given(st.lists(st.lists(names, min_size=1, max_size=4), min_size=1, max_size=12))
def test_parents_stand_before_their_codes_and_each_once(trees):
    found = read(["code"], *([" > ".join(path)] for path in trees))
    seen = [one.path for one in found.codes]
    assert len(seen) == len(set(seen))
    for at, path in enumerate(seen):
        assert len(path) == 1 or path[:-1] in seen[:at]
    assert {tuple(" ".join(part.split()) for part in path) for path in trees} <= set(seen)


QDC = b"""<?xml version="1.0" encoding="utf-8"?>
<CodeBook xmlns="urn:QDA-XML:codebook:1.0" origin="Elsewhere"><Codes>
<Code guid="1" name="Frames" isCodable="false" color="#b9770e"><Description>All of them
Rule: only one</Description>
  <Code guid="2" name="Fear" isCodable="true" color="#0000ff"/><Code guid="3" name="" isCodable="true"/>
  <Code guid="4" name="Fear" isCodable="true"/></Code>
</Codes><Sets><Set guid="9" name="Core"><MemberCode guid="2"/></Set></Sets></CodeBook>"""


def test_the_exchange_format_of_another_program():
    found = read_codebook_bytes(QDC, "theirs.qdc")
    frames, fear = found.codes
    assert frames.path == ("Frames",) and frames.values == {
        "description": "All of them", "rule": "only one", "colour": 0,
    }  # fmt: skip
    assert (fear.path, fear.groups, fear.values["colour"]) == (("Frames", "Fear"), ("Core",), 4)
    assert found.doubles == 1 and len(found.refused) == 1 and found.groups == ("Core",)


def test_a_description_is_parted_as_it_was_joined():
    said = "What\nRule: When\nand when\nExample: This\nCounter-example: That"
    assert parted(said) == {
        "description": "What", "rule": "When\nand when", "example": "This", "counter_example": "That",
    }  # fmt: skip
    assert parted("Example: at the very start") == {"example": "at the very start"}
