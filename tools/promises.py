"""Write `docs/promises.md` from the tests: laws lived through, properties, written-out numbers, each with its test."""

import ast
import re
import subprocess
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
PAGE = ROOT / "docs/promises.md"
HEAD = """# What is promised, and the test that holds it

Made by `make promises` from the names of the tests, so that it says no more than they do. "Since" is the day on which
the test was first written; most were made stricter since.
"""
SECTIONS = {
    "laws": "Laws, on every page and every day of a life lived through the pages",
    "numbers": "Numbers and tiers that are written out, or cannot change unseen",
    "properties": "Properties, tried on many drawn values",
}
NUMBERS = ("tests/core/test_pinned_tables.py", "tests/core/test_every_table.py")


@dataclass(frozen=True)
class Promise:
    """A test whose name is a sentence: where it stands, and in which section of the page."""

    section: str
    file: str
    name: str

    @property
    def sentence(self) -> str:
        """The name of the test as a sentence."""
        words = self.name.removeprefix("test_").replace("_", " ")
        words = re.sub(r"^law (\d+) ", r"law \1: ", words)
        return f"{words[0].upper()}{words[1:]}."


def promises() -> list[Promise]:
    """Return every promise that the tests hold, by section and file."""
    found = [p for path in sorted(ROOT.joinpath("tests").rglob("test_*.py")) for p in _of(path)]
    return sorted(found, key=lambda p: (list(SECTIONS).index(p.section), p.file))


def _of(path: Path) -> Iterator[Promise]:
    file = path.relative_to(ROOT).as_posix()
    for node in ast.parse(path.read_text(encoding="utf-8")).body:
        if isinstance(node, ast.FunctionDef) and node.name.startswith("test_"):
            section = _section(file, node)
            if section:
                yield Promise(section, file, node.name)


def _section(file: str, test: ast.FunctionDef) -> str:
    if file.startswith("tests/laws/"):
        return "laws"
    if file in NUMBERS:
        return "numbers"
    drawn = any(ast.unparse(decorator).startswith("given(") for decorator in test.decorator_list)
    return "properties" if drawn else ""


def first_days() -> dict[str, str]:
    """Return the day each test was first written, by its name, as the history has it."""
    log = subprocess.run(
        ["git", "log", "--reverse", "-p", "--format=@%as", "--", "tests"],
        cwd=ROOT,
        check=True,
        capture_output=True,
        encoding="utf-8",
        errors="replace",  # some tests hold bytes of other encodings
    ).stdout
    day = ""
    found: dict[str, str] = {}
    for line in log.splitlines():
        if line.startswith("@2"):
            day = line[1:]
        elif new := re.match(r"\+def (test_\w+)\(", line):
            found.setdefault(new[1], day)
    return found


def main() -> None:
    since, known = first_days(), promises()
    lines = [HEAD]
    for section, title in SECTIONS.items():
        lines += [f"## {title}", "", "| promise | test | since |", "|---|---|---|"]
        lines += [
            f"| {p.sentence} | `{p.file}` | {since.get(p.name, 'not yet committed')} |"
            for p in known
            if p.section == section
        ]
        lines.append("")
    PAGE.write_text("\n".join(lines).rstrip() + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
