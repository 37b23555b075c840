"""Change the rules at the heart in small ways, one at a time: does any test notice?

    PYTHONPATH=src:. .venv/bin/python -m tests.mutants [MODULE …]

Wording is left as it is: strings, which of two strings is said, and functions that only make sentences. So are bounds
of a search, which change how long it looks and not what is right, and whether a dataclass is frozen. Prints each change
that nobody noticed, and the share of those that somebody did.
"""

import ast
import copy
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
HEART = ("redundancy/verdict", "redundancy/remedies", "redundancy/copies", "redundancy/facts", "preflight/__init__",
         "cards/holding", "making_room")  # fmt: skip
TESTS = ("tests.core.test_redundancy", "tests.core.test_remedies", "tests.core.test_verdict_numbers",
         "tests.core.test_copies", "tests.core.test_holding", "tests.core.test_cards", "tests.core.test_second_judge",
         "tests.core.test_making_room")  # fmt: skip
_SWAPS = {
    ast.Eq: ast.NotEq, ast.NotEq: ast.Eq, ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt,
    ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.And: ast.Or, ast.Or: ast.And,
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Add, ast.BitAnd: ast.BitOr, ast.BitOr: ast.BitAnd,
}  # fmt: skip
_NAMES = {"min": "max", "max": "min", "any": "all", "all": "any"}


def changes(tree: ast.Module) -> Iterator[tuple[int, str, ast.Module]]:
    """Every small change: its line, what it is, and the module with it."""
    places = _code(tree)
    for n, node in enumerate(places):
        for what in _ways(node):
            fresh = copy.deepcopy(tree)
            target = _code(fresh)[n]
            _apply(target, what)
            yield node.lineno, f"{what} in {ast.unparse(node)[:70]}", ast.fix_missing_locations(fresh)


def _code(tree: ast.Module) -> list[ast.AST]:
    """What may be changed, in the order of the text's tree."""
    aside = {id(inner) for node in ast.walk(tree) for part in _set_aside(node) for inner in ast.walk(part)}
    return [node for node in ast.walk(tree) if id(node) not in aside and _is_code(node)]


def _set_aside(node: ast.AST) -> list[ast.AST]:
    if isinstance(node, ast.ClassDef):
        return list(node.decorator_list)
    if isinstance(node, ast.AnnAssign):
        return [node.annotation]
    return [node] if _is_wording(node) else []


def _is_wording(node: ast.AST) -> bool:
    if isinstance(node, ast.FunctionDef):
        return node.name in _SENTENCES
    if isinstance(node, ast.Assign):
        return any(isinstance(target, ast.Name) and target.id.startswith("_MOST_") for target in node.targets)
    return isinstance(node, ast.JoinedStr) or (
        isinstance(node, ast.IfExp) and all(isinstance(one, ast.Constant | ast.JoinedStr) and not isinstance(
            getattr(one, "value", ""), bool | int) for one in (node.body, node.orelse))
    )  # fmt: skip


_SENTENCES = ("sentence", "_duration", "_needs", "_files_on_it", "_three_digits", "gigabytes")


def _is_code(node: ast.AST) -> bool:
    return isinstance(node, ast.Compare | ast.BoolOp | ast.BinOp | ast.UnaryOp | ast.If | ast.IfExp | ast.Name) or (
        isinstance(node, ast.Constant) and isinstance(node.value, bool | int) and not isinstance(node.value, str)
    )


def _ways(node: ast.AST) -> list[str]:
    if isinstance(node, ast.Compare):
        return [f"compare {n}" for n, op in enumerate(node.ops) if type(op) in _SWAPS]
    if isinstance(node, ast.BoolOp | ast.BinOp):
        return ["operator"] if type(node.op) in _SWAPS else []
    if isinstance(node, ast.UnaryOp):
        return ["drop"] if isinstance(node.op, ast.Not | ast.USub) else []
    if isinstance(node, ast.If | ast.IfExp):
        return ["negate"]
    if isinstance(node, ast.Name):
        return ["name"] if node.id in _NAMES else []
    return ["constant"]


def _apply(node: ast.AST, what: str) -> None:
    kind, _, n = what.partition(" ")
    if kind == "compare":
        node.ops[int(n)] = _SWAPS[type(node.ops[int(n)])]()
    elif kind == "operator":
        node.op = _SWAPS[type(node.op)]()
    elif kind == "drop":
        node.op = ast.UAdd() if isinstance(node.op, ast.USub) else ast.Not()
        node.operand = node.operand if isinstance(node.op, ast.UAdd) else ast.UnaryOp(ast.Not(), node.operand)
    elif kind == "negate":
        node.test = ast.UnaryOp(ast.Not(), node.test)
    elif kind == "name":
        node.id = _NAMES[node.id]
    else:
        node.value = not node.value if isinstance(node.value, bool) else node.value + 1


def survives(path: Path, tree: ast.Module) -> bool:
    """Whether all tests still pass with this module changed."""
    with tempfile.TemporaryDirectory() as folder:
        home = Path(folder) / "src"
        shutil.copytree(ROOT / "src", home, ignore=shutil.ignore_patterns("__pycache__"))
        (home / path).write_text(ast.unparse(tree))
        env = {**os.environ, "PYTHONPATH": f"{home}:{ROOT}", "PYTHONDONTWRITEBYTECODE": "1"}
        words = [sys.executable, "-m", "unittest", "-f", *TESTS]
        try:
            done = subprocess.run(words, env=env, cwd=folder, capture_output=True, timeout=300)
        except subprocess.TimeoutExpired:
            return False
        return done.returncode == 0


def main(wanted: list[str]) -> None:
    share = float(os.environ.get("MUTANTS_SHARE", "1"))
    chance = random.Random(1)
    total = noticed = 0
    for name in wanted or HEART:
        path = Path("ruggedraft/core") / f"{name}.py"
        tree = ast.parse((ROOT / "src" / path).read_text())
        made = [one for one in changes(tree) if chance.random() < share]
        lived = 0
        with ThreadPoolExecutor(2) as pool:
            outcomes = pool.map(lambda one, path=path: survives(path, one[2]), made)
            for (line, what, _), alive in zip(made, outcomes, strict=True):
                if alive:
                    lived += 1
                    print(f"{path}:{line}: {what}", flush=True)
        total, noticed = total + len(made), noticed + len(made) - lived
        print(f"{name}: {len(made) - lived} of {len(made)} noticed", flush=True)
    print(f"in all: {noticed} of {total} ({noticed / max(total, 1):.0%})")


if __name__ == "__main__":
    main(sys.argv[1:])
