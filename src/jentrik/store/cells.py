"""A row taken apart into cells, so that undo touches only what a change touched.

A cell is a column, or within a proposal's JSON one figure: two people who change two figures of
one proposal change two cells.
"""

import json
from collections.abc import Mapping
from typing import Any

from jentrik.store.rows import Row

_PARTED = ("changes",)  # columns whose JSON object is taken apart
_COUNTER = "version"  # it only ever goes up, so it is no cell
Cell = tuple[str, ...]


def cells(row: Row) -> dict[Cell, Any]:
    """Return the cells of a row, by column and path within it."""
    found: dict[Cell, Any] = {}
    for column, value in row.items():
        if column in _PARTED:
            found |= _leaves(json.loads(value), (column,))
        elif column != _COUNTER:
            found[column,] = value
    return found


def _leaves(value: Any, path: Cell) -> dict[Cell, Any]:
    if not isinstance(value, dict):
        return {path: value}
    found: dict[Cell, Any] = {}
    for key, part in value.items():
        found |= _leaves(part, (*path, key))
    return found


def moved(before: Row, after: Row) -> dict[Cell, tuple[Any, Any]]:
    """Return the cells that differ, each with its value before and after; None is none there."""
    old, new = cells(before), cells(after)
    return {
        cell: (old.get(cell), new.get(cell))
        for cell in (*old, *(cell for cell in new if cell not in old))
        if old.get(cell) != new.get(cell)
    }


def with_cells(row: Row, values: Mapping[Cell, Any]) -> dict[str, Any]:
    """Return the columns that change when these cells are put into a row, counter included."""
    columns: dict[str, Any] = {}
    for column in dict.fromkeys(cell[0] for cell in values):
        inside = {cell: value for cell, value in values.items() if cell[0] == column}
        if column not in _PARTED:
            columns[column] = inside[column,]
            continue
        kept = {**_leaves(json.loads(row[column]), (column,)), **inside}
        tree = _tree({cell[1:]: value for cell, value in kept.items() if value is not None})
        columns[column] = json.dumps(tree, ensure_ascii=False, sort_keys=True)
    if columns and _COUNTER in row:
        columns[_COUNTER] = row[_COUNTER] + 1
    return columns


def _tree(leaves: Mapping[Cell, Any]) -> dict[str, Any]:
    tree: dict[str, Any] = {}
    for path, value in leaves.items():
        branch = tree
        for key in path[:-1]:
            branch = branch.setdefault(key, {})
        if path:
            branch[path[-1]] = value
    return tree
