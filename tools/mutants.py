"""Change the code a little, many times, and see whether a test turns red: `make mutants`.

A sample of all mutants (chosen by a seed) is tried in copies of the project, with the tests nearest to the changed
code. Prints those that no test noticed; docs/mutants.md says which of them are accepted, and why. Asserts nothing.
"""

import os
import random
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parent.parent
PYTHON = sys.executable


@dataclass(frozen=True)
class Group:
    """Code that is changed, and the tests that should notice, the quickest first."""

    name: str
    code: tuple[str, ...]
    tests: tuple[str, ...]


GROUPS = (
    Group(
        "judge, load, record",
        ("core/judge", "core/load", "core/record"),
        ("tests/core/test_call.py", "tests/core", "tests/library", "tests/formats", "tests/external"),
    ),
    Group(
        "body",
        ("core/body",),
        ("tests/core/test_body.py", "tests/core/test_territories.py", "tests/core", "tests/drawing"),
    ),
    Group("plan, session, fit", ("core/plan", "core/session", "core/fit"), ("tests/core", "tests/external")),
    Group("trial", ("core/trial",), ("tests/core/test_trial.py", "tests/services/trial", "tests/external")),
    Group(
        "measure",
        ("core/measure",),
        ("tests/core/measure", "tests/core/test_measures.py", "tests/services/technique", "tests/external"),
    ),
    Group(
        "review",
        ("core/review",),
        ("tests/core/test_week_review.py", "tests/core/test_spans.py", "tests/services/review"),
    ),
    *(
        Group(f"services: {name}", (f"services/{name}",), (f"tests/services/{name}", *more, "tests/web/test_pages.py"))
        for name, more in {
            "today": ("tests/library", "tests/laws/test_short_laws.py"),
            "play": ("tests/services/record/test_corrections_and_calls.py",),
            "plan": (),
            "record": ("tests/formats",),
            "body": (),
            "kit": (),
            "technique": (),
            "score": (),
            "trial": (),
        }.items()
    ),
)
CONFIG = """
[cosmic-ray]
module-path = {modules}
timeout = 240.0
excluded-modules = []
test-command = "{python} -m pytest -x -q -p no:cacheprovider {tests}"

[cosmic-ray.distributor]
name = "local"
"""


def sampled(session: Path, count: int, seed: int) -> int:
    """Keep a sample of a session's mutants; returns how many there were."""
    with sqlite3.connect(session) as db:
        jobs = [row[0] for row in db.execute("select job_id from work_items order by job_id")]
        # annotations are not run: a changed `X | None` is no changed programme
        dull = {r[0] for r in db.execute("select job_id from mutation_specs where operator_name like '%BitOr%'")}
        jobs_left = [job for job in jobs if job not in dull]
        places = dict(
            db.execute("select job_id, module_path || start_pos_row || operator_name || occurrence from mutation_specs")
        )
        jobs_left.sort(key=lambda job: places[job])
        kept = set(random.Random(seed).sample(jobs_left, min(count, len(jobs_left))))
        for job in jobs:
            if job not in kept:
                db.execute("delete from mutation_specs where job_id = ?", (job,))
                db.execute("delete from work_items where job_id = ?", (job,))
    return len(jobs_left)


def tried(group: Group, count: int, seed: int, ray: str) -> list[str]:
    """Try a sample of a group's mutants in a copy of the project; returns a line for each that survived."""
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder)
        for part in ("src", "tests", "tools", "docs", "pyproject.toml", "README.md", "CHANGELOG.md"):
            source = ROOT / part
            (shutil.copytree if source.is_dir() else shutil.copy)(source, copy / part)
        modules = [f"src/chirotend/{part}" for part in group.code]
        config, session = copy / "mutants.toml", copy / "mutants.sqlite"
        config.write_text(CONFIG.format(modules=modules, python=PYTHON, tests=" ".join(group.tests)))
        env = {**os.environ, "PYTHONPATH": str(copy / "src")}
        run: dict[str, Any] = {"cwd": copy, "env": env, "check": True, "capture_output": True, "text": True}
        subprocess.run([ray, "init", config, session], **run)
        whole = sampled(session, count, seed)
        subprocess.run([ray, "exec", config, session], **run)
        with sqlite3.connect(session) as db:
            done = db.execute(
                "select m.module_path, m.start_pos_row, m.operator_name, r.test_outcome, r.diff"
                " from mutation_specs m join work_results r on m.job_id = r.job_id"
            ).fetchall()
    survived = [row for row in done if str(row[3]).upper().endswith("SURVIVED")]
    print(f"{group.name}: {len(done)} of {whole} mutants tried, {len(survived)} survived", flush=True)
    return [
        f"{path.removeprefix('src/chirotend/')}:{row} {operator.removeprefix('core/')}\n{_changed(diff)}"
        for path, row, operator, _, diff in sorted(survived)
    ]


def _changed(diff: str | None) -> str:
    lines = (diff or "").splitlines()
    return "\n".join(f"    {line}" for line in lines if line[:1] in "+-" and line[:3] not in ("+++", "---"))


def main() -> None:
    """Try COUNT mutants a group, chosen by SEED: `tools/mutants.py COUNT SEED`."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    seed = int(sys.argv[2]) if len(sys.argv) > 2 else 1
    ray = os.environ.get("COSMIC_RAY") or shutil.which("cosmic-ray") or "build/mutants/bin/cosmic-ray"
    with ThreadPoolExecutor(2) as pool:
        for lines in pool.map(lambda group: tried(group, count, seed, str(Path(ray).absolute())), GROUPS):
            print("\n".join(lines), flush=True)


if __name__ == "__main__":
    main()
