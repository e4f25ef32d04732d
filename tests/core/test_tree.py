"""Trees of categories and codes: order, moves, merges, names."""

from dataclasses import dataclass, replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.errors import Conflict, NotFound, TreeError
from winnower.core.tree import MAX_NAME, Tree, unlike


@dataclass(frozen=True)
class Leaf:
    id: int
    parent_id: int | None
    name: str
    position: int = 0


def tree(*nodes, deepest=4):
    return Tree(nodes, "code", "codes", deepest)


FRAMES = (
    Leaf(1, None, "Livelihood", 0),
    Leaf(2, None, "Ecology", 1),
    Leaf(3, 2, "Deer", 0),
    Leaf(4, 2, "Birch", 1),
    Leaf(5, 3, "Hinds", 0),
)


def applied(nodes, placements):
    by_id = {node.id: node for node in nodes}
    for one in placements:
        by_id[one.id] = replace(by_id[one.id], **one.values)
    return tuple(by_id.values())


def test_order_paths_and_what_lies_below():
    frames = tree(*FRAMES)
    assert frames.order() == [1, 2, 3, 5, 4]
    assert frames.path(5) == ("Ecology", "Deer", "Hinds") and frames.depth(5) == 2
    assert frames.below(2) == {2, 3, 4, 5} and frames.below(1) == {1}
    with pytest.raises(NotFound, match="no such code"):
        frames.below(9)


def test_a_node_moves_with_all_under_it_before_another():
    moved = applied(FRAMES, tree(*FRAMES).move(3, None, before_id=2))
    assert tree(*moved).order() == [1, 3, 5, 2, 4]
    assert tree(*applied(moved, tree(*moved).move(3, 2))).order() == [1, 2, 4, 3, 5]


@pytest.mark.parametrize(
    ("node", "parent", "before", "error", "words"),
    [
        (2, 5, None, TreeError, "into itself"),
        (2, None, 2, TreeError, "into itself"),
        (1, 77, None, NotFound, "no such code"),
        (2, 1, None, TreeError, "at most 3 levels"),
    ],
)
def test_moves_that_cannot_be_are_refused(node, parent, before, error, words):
    with pytest.raises(error, match=words):
        tree(*FRAMES, deepest=3).move(node, parent, before)


def test_names_are_free_among_siblings_only():
    frames = tree(*FRAMES, Leaf(6, 1, "Deer"))
    with pytest.raises(Conflict, match="on this level already"):
        frames.free_name("Deer", 2)
    frames.free_name("Deer", 2, but=3)
    frames.free_name("Deer", None)
    with pytest.raises(Conflict, match="merge them instead"):
        frames.move(6, 2)


def test_children_of_both_keep_apart_when_nodes_are_merged():
    nodes = (*FRAMES, Leaf(6, 1, "Deer"), Leaf(7, 1, "Costs"))
    after = applied(nodes, tree(*nodes).merge(1, 2))
    names = [node.name for node in after if node.parent_id == 2]
    assert names == ["Deer", "Birch", "Deer (Livelihood)", "Costs"]
    with pytest.raises(TreeError, match="cannot be merged into itself"):
        tree(*nodes).merge(2, 5)


@given(st.sets(st.text("ab+() ", min_size=1, max_size=6)), st.text("ab", min_size=1, max_size=MAX_NAME))
def test_a_name_that_nobody_has_is_always_found(taken, name):
    found = unlike(name, {*taken, name}, "a")
    assert found not in {*taken, name} and len(found) <= MAX_NAME


@st.composite
def grown(draw):
    size = draw(st.integers(1, 9))
    parents = [draw(st.none() | st.integers(1, at)) if at else None for at in range(size)]
    return tuple(Leaf(at + 1, parents[at], f"n{at}", draw(st.integers(0, 3))) for at in range(size))


@given(grown(), st.data())
def test_any_move_leaves_a_tree_with_the_same_nodes(nodes, data):
    before = tree(*nodes, deepest=20)
    node = data.draw(st.sampled_from(nodes)).id
    allowed = [None, *(one.id for one in nodes if one.id not in before.below(node))]
    parent = data.draw(st.sampled_from(allowed))
    siblings = [None, *(one.id for one in nodes if one.parent_id == parent and one.id != node)]
    beside = data.draw(st.sampled_from(siblings))
    after = tree(*applied(nodes, before.move(node, parent, beside)), deepest=20)
    assert sorted(after.order()) == sorted(before.order())
    assert after.node[node].parent_id == parent and after.below(node) == before.below(node)
    row = [one.id for one in after.children[parent]]
    assert row[row.index(node) + 1 :][:1] == ([beside] if beside else [])
