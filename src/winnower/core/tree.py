"""Trees of named nodes: the categories of a dictionary, the codes of a codebook.

A tree is worked out from its nodes; what a change means is returned as plain placements, for the store to
carry out.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Protocol, TypeVar

from winnower.core.errors import Conflict, NotFound, TreeError

MAX_NAME = 120


class Node(Protocol):
    """A node as it is stored; ``position`` orders it among its siblings."""

    @property
    def id(self) -> int: ...
    @property
    def parent_id(self) -> int | None: ...
    @property
    def name(self) -> str: ...
    @property
    def position(self) -> int: ...


N = TypeVar("N", bound=Node)


@dataclass(frozen=True)
class Placement:
    """Where a node goes: only what changes is given."""

    id: int
    values: dict[str, int | str | None]


class Tree:
    """Nodes by their parents. ``noun`` and ``nouns`` say in messages what they are; no node may lie deeper
    than ``deepest`` levels, the top being one."""

    def __init__(self, nodes: Iterable[Node], noun: str, nouns: str, deepest: int = 8) -> None:
        self.noun, self.nouns, self.deepest = noun, nouns, deepest
        self.node = {node.id: node for node in nodes}
        self.children: dict[int | None, list[Node]] = {}
        for node in sorted(self.node.values(), key=lambda node: (node.position, node.id)):
            self.children.setdefault(node.parent_id, []).append(node)

    def order(self) -> list[int]:
        """Ids, each parent before its children."""
        out: list[int] = []
        waiting: list[int] = [node.id for node in reversed(self.children.get(None, []))]
        while waiting:
            at = waiting.pop()
            out.append(at)
            waiting += [node.id for node in reversed(self.children.get(at, []))]
        return out

    def path(self, node_id: int) -> tuple[str, ...]:
        """Names from the top down to the node."""
        names: list[str] = []
        at: int | None = node_id
        while at is not None:
            names.append(self.node[at].name)
            at = self.node[at].parent_id
        return tuple(reversed(names))

    def depth(self, node_id: int) -> int:
        """0 at the top."""
        return len(self.path(node_id)) - 1

    def below(self, node_id: int) -> set[int]:
        """A node and all under it. Raises NotFound."""
        self._known(node_id)
        found, waiting = {node_id}, [node_id]
        while waiting:
            under = {node.id for node in self.children.get(waiting.pop(), [])}
            found |= under
            waiting += under
        return found

    def free_name(self, name: str, parent_id: int | None, but: int | None = None) -> None:
        """Raises Conflict where a sibling, other than ``but``, has the name already."""
        if any(node.name == name and node.id != but for node in self.children.get(parent_id, [])):
            raise Conflict(f"There is a {self.noun} named “{name}” on this level already.")

    def last_position(self, parent_id: int | None) -> int:
        """The position after all siblings."""
        return max((node.position for node in self.children.get(parent_id, [])), default=-1) + 1

    def move(self, node_id: int, parent_id: int | None, before_id: int | None = None) -> list[Placement]:
        """Under another node (None: the top), before one of the nodes there or last; the node comes first.

        Raises TreeError where it would lie in itself or too deep, Conflict for a taken name.
        """
        node = self._known(node_id)
        own = self.below(node_id)
        if parent_id in own or before_id == node_id:
            raise TreeError(f"“{node.name}” cannot be moved into itself. Nothing was changed.")
        above = -1 if parent_id is None else self.depth(self._known(parent_id).id)
        height = max(map(self.depth, own)) - self.depth(node_id)
        if above + 1 + height >= self.deepest:
            nouns = self.nouns[:1].upper() + self.nouns[1:]
            raise TreeError(f"{nouns} can lie at most {self.deepest} levels deep. Nothing was changed.")
        siblings = [one for one in self.children.get(parent_id, []) if one.id != node_id]
        if any(one.name == node.name for one in siblings):
            raise Conflict(
                f"There is a {self.noun} named “{node.name}” on that level already; merge them instead."
            )
        place = next((at for at, one in enumerate(siblings) if one.id == before_id), len(siblings))
        moved = [Placement(node_id, {"parent_id": parent_id})]
        for position, one in enumerate([*siblings[:place], node, *siblings[place:]]):
            if one.position != position:
                moved.append(Placement(one.id, {"position": position}))
        return moved

    def merge(self, from_id: int, into_id: int) -> list[Placement]:
        """Where the children of a node go that is taken into another: names both have get the old one's
        name behind them. Raises TreeError where one lies in the other's way."""
        source, target = self._known(from_id), self._known(into_id)
        if into_id in self.below(from_id):
            raise TreeError(f"“{source.name}” cannot be merged into itself or what lies in it.")
        names = {one.name for one in self.children.get(into_id, []) if one.id != from_id}
        moved = []
        for position, child in enumerate(self.children.get(from_id, []), self.last_position(into_id)):
            name = unlike(child.name, names, source.name)
            names.add(name)
            values: dict[str, int | str | None] = {"parent_id": target.id, "position": position}
            moved.append(Placement(child.id, values | ({"name": name} if name != child.name else {})))
        return moved

    def _known(self, node_id: int) -> Node:
        try:
            return self.node[node_id]
        except KeyError:
            raise NotFound(f"There is no such {self.noun} any more.") from None


def unlike(name: str, taken: set[str], origin: str) -> str:
    """A name that none of the others has: with its origin behind it, then with signs.

    >>> unlike("Deer", {"Deer"}, "Ecology")
    'Deer (Ecology)'
    """
    wanted = name
    while wanted in taken:
        wanted = f"{name} ({origin})"[:MAX_NAME] if wanted == name else f"{wanted[: MAX_NAME - 1]}+"
    return wanted


def in_tree_order(nodes: Sequence[N], tree: Tree) -> list[N]:
    """The nodes in the order of their tree."""
    by_id = {node.id: node for node in nodes}
    return [by_id[one] for one in tree.order()]
