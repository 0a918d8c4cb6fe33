"""Changes one thing in a law at a time and looks whether a test minds: how much the tests of the laws would let pass.

    python -m tests.mutants run RESULTS.jsonl [--sample N] [--seed S] [--only MODULE] [--patience SECONDS]
    python -m tests.mutants tell RESULTS.jsonl

Every law is a decorated function, which the usual tools skip; so a copy of the source is changed on disk. A run can be
stopped and taken up again: what the file holds is not asked twice. A change that the law's own check of units refuses
at import counts apart: no test had to mind it. It is no part of the test run: each change costs some ten seconds.
"""

from __future__ import annotations

import argparse
import ast
import json
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[1]
LAWS = Path("zinc_whistle/core/laws")
SUITES = ("tests/reference", "tests/circuits", "tests/core", "tests/verdicts")
PATIENCE_S = 900
SWAPS: dict[type[ast.AST], type[ast.AST]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
}
CALLS = {"larger": "smaller", "smaller": "larger", "max": "min", "min": "max", "exp": "sqrt", "sqrt": "exp"}


@dataclass(frozen=True, slots=True)
class Mutant:
    """One change: the file, the law, what is changed, and the whole text of the file with it."""

    module: str
    law: str
    change: str
    text: str

    @property
    def id(self) -> str:
        return f"{self.module}:{self.law}:{self.change}"


class _Change(ast.NodeTransformer):
    """Changes the ``wanted``-th place of a tree that can be changed, and says how."""

    def __init__(self, wanted: int, inputs: frozenset[str]) -> None:
        self.wanted, self.inputs, self.seen, self.says = wanted, inputs, -1, ""

    def _here(self) -> bool:
        self.seen += 1
        return self.seen == self.wanted

    def visit_BinOp(self, node: ast.BinOp) -> ast.AST:
        swap = SWAPS.get(type(node.op))
        if swap is not None and self._here():
            self.says = f"line {node.lineno}.{node.col_offset}: {type(node.op).__name__} to {swap.__name__}"
            node.op = swap()  # type: ignore[assignment]
            return node
        return self.generic_visit(node)

    def visit_UnaryOp(self, node: ast.UnaryOp) -> ast.AST:
        if isinstance(node.op, ast.USub) and not isinstance(node.operand, ast.Constant) and self._here():
            self.says = f"line {node.lineno}.{node.col_offset}: without its minus"
            return node.operand
        return self.generic_visit(node)

    def visit_Compare(self, node: ast.Compare) -> ast.AST:
        swap = SWAPS.get(type(node.ops[0]))
        if swap is not None and self._here():
            self.says = f"line {node.lineno}.{node.col_offset}: {type(node.ops[0]).__name__} to {swap.__name__}"
            node.ops[0] = swap()  # type: ignore[call-overload]
            return node
        return self.generic_visit(node)

    def visit_Call(self, node: ast.Call) -> ast.AST:
        name = node.func.id if isinstance(node.func, ast.Name) else ""
        if name in CALLS and self._here():
            self.says = f"line {node.lineno}.{node.col_offset}: {name} to {CALLS[name]}"
            node.func = ast.Name(CALLS[name], ast.Load())
            return node
        return self.generic_visit(node)

    def visit_Name(self, node: ast.Name) -> ast.AST:
        if node.id in self.inputs and isinstance(node.ctx, ast.Load) and self._here():
            self.says = f"line {node.lineno}.{node.col_offset}: a tenth more of {node.id}"
            return ast.BinOp(ast.Constant(1.1), ast.Mult(), node)
        return node

    def visit_Constant(self, node: ast.Constant) -> ast.AST:
        if isinstance(node.value, int | float) and not isinstance(node.value, bool) and self._here():
            self.says = f"line {node.lineno}.{node.col_offset}: {node.value} to {node.value * 1.1 + 0.1:.4g}"
            return ast.Constant(node.value * 1.1 + 0.1)
        return node

    def visit_Return(self, node: ast.Return) -> ast.AST:
        if node.value is not None and self._here():
            self.says = f"line {node.lineno}.{node.col_offset}: a tenth more"
            node.value = ast.BinOp(ast.Constant(1.1), ast.Mult(), node.value)
            return node
        return self.generic_visit(node)


def mutants(source: Path) -> Iterator[Mutant]:
    """Every change of every law below ``source``: at least three where a law has as many places."""
    for path in sorted((source / LAWS).glob("*.py")):
        text = path.read_text("utf-8")
        for number, node in enumerate(ast.parse(text).body):
            if not isinstance(node, ast.FunctionDef) or not node.decorator_list:
                continue
            place = 0
            while True:
                tree = ast.parse(text)
                law = tree.body[number]
                assert isinstance(law, ast.FunctionDef)
                change = _Change(place, frozenset(a.arg for a in law.args.args))
                law.body = [change.visit(line) for line in law.body]
                if not change.says:
                    break
                yield Mutant(path.stem, node.name, change.says, ast.unparse(ast.fix_missing_locations(tree)))
                place += 1


def _suites_for(mutant: Mutant) -> list[str]:
    """Test files that name the law first, then the rest."""
    files = sorted(p for s in SUITES for p in ([ROOT / s] if s.endswith(".py") else (ROOT / s).rglob("test_*.py")))
    named = [p for p in files if mutant.law in p.read_text("utf-8")]
    return [str(p.relative_to(ROOT)) for p in [*named, *(p for p in files if p not in named)]]


def outcome(mutant: Mutant, source: Path, patience_s: float = PATIENCE_S) -> str:
    """``killed``, ``survived``, or ``refused`` by the check of units at import."""
    path = source / LAWS / f"{mutant.module}.py"
    sound = path.read_text("utf-8")
    path.write_text(mutant.text, "utf-8")
    world = os.environ | {"PYTHONPATH": f"{source}{os.pathsep}{ROOT}", "OPENBLAS_NUM_THREADS": "1"}
    try:
        tried = subprocess.run(
            [sys.executable, "-c", "import zinc_whistle.core.assess"], env=world, cwd=ROOT, capture_output=True
        )
        if tried.returncode:
            return "refused"
        return "survived" if _passes(source, _suites_for(mutant), patience_s) else "killed"
    finally:
        path.write_text(sound, "utf-8")


def _passes(source: Path, files: list[str], patience_s: float = PATIENCE_S) -> bool:
    """Whether tests pass on a copy of the source, which must come before the one that the settings of pytest name."""
    world = os.environ | {"OPENBLAS_NUM_THREADS": "1"}
    where = f"pythonpath={source} {ROOT}"
    asked = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", "-o", where, *files]
    try:
        return subprocess.run(asked, env=world, cwd=ROOT, capture_output=True, timeout=patience_s).returncode == 0
    except subprocess.TimeoutExpired:
        # No test minded in that time: counted against the tests, also where the change only never ends.
        return True


def prove(source: Path) -> None:
    """Refuse to count anything where the tests do not read the copy, or fail on it as it is."""
    path, files = source / LAWS / "motor.py", ["tests/reference/test_motor.py"]
    sound = path.read_text("utf-8")
    if not _passes(source, files):
        raise SystemExit("The tests fail on a sound copy: nothing can be told.")
    path.write_text("raise RuntimeError", "utf-8")
    try:
        if _passes(source, files):
            raise SystemExit("The tests do not read the copy that is changed: nothing can be told.")
    finally:
        path.write_text(sound, "utf-8")


def _known(results: Path) -> dict[str, str]:
    if not results.exists():
        return {}
    rows = [json.loads(line) for line in results.read_text("utf-8").splitlines() if line.strip()]
    return {row["id"]: row["outcome"] for row in rows}


def run(results: Path, sample: int, seed: int, only: str, patience_s: float) -> None:
    known = _known(results)
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "src"
        shutil.copytree(ROOT / "src", source)
        prove(source)
        every = [m for m in mutants(source) if only in ("", m.module)]
        chosen = random.Random(seed).sample(every, min(sample, len(every))) if sample else every
        for mutant in chosen:
            if mutant.id in known:
                continue
            found = outcome(mutant, source, patience_s)
            with results.open("a", encoding="utf-8") as out:
                out.write(json.dumps({"id": mutant.id, "outcome": found}) + "\n")
            print(f"{found:9} {mutant.id}", flush=True)


def tell(results: Path) -> None:
    known = _known(results)
    count = Counter(known.values())
    asked = count["killed"] + count["survived"]
    print(
        f"{len(known)} changes: {count['refused']} refused at import; of {asked} that ran, {count['killed']} killed",
        end="",
    )
    print(f" ({count['killed'] / asked:.0%})" if asked else "")
    print("\n".join(f"  survived {id}" for id, found in sorted(known.items()) if found == "survived"))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("what", choices=("run", "tell", "count"))
    parser.add_argument("results", type=Path)
    parser.add_argument("--sample", type=int, default=0)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--only", default="")
    parser.add_argument("--patience", type=float, default=PATIENCE_S, help="seconds for the tests of one change")
    words = parser.parse_args()
    if words.what == "run":
        run(words.results, words.sample, words.seed, words.only, words.patience)
    elif words.what == "tell":
        tell(words.results)
    else:
        per = Counter((m.module, m.law) for m in mutants(ROOT / "src"))
        print(f"{per.total()} changes of {len(per)} laws; fewer than three: {sum(n < 3 for n in per.values())}")


if __name__ == "__main__":
    main()
