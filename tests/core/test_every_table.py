"""Every cell of every packaged table is as it was decided: who changes one changes its mark here, and says why."""

import hashlib
from importlib.resources import files

import pytest

from chirotend.core.measure.limits import ranges
from chirotend.core.tables import rows

#: the first letters of the SHA-256 of a table's rows; the numbers of the safety rules stand in `test_pinned_tables.py`
MARKS = {
    "angle_limits": "582cb02e6bc3",
    "call_rules": "a21f3a64bb87",
    "fingerings": "8e50a094afb3",
    "hand_norms": "590544fea3ae",
    "hold_drawings": "5080bb6eed9d",
    "holding_joints": "f6c4ef81c077",
    "joint_ranges": "b4a402ee71af",
    "ladder": "85152f8e96dd",
    "measures": "ba8ab53694bd",
    "plan_rules": "57f403f98df2",
    "programme_rules": "b74030b93925",
    "red_flag_pairs": "7482b39c0cb3",
    "red_flags": "3e76a316ccdc",
    "rest_presets": "d98cee9ae43d",
    "rhythm_variants": "5fafadcee9ea",
    "rula_a": "63b695e0c4d1",
    "rula_b": "6218ed892dc8",
    "rula_c": "ccd3c402a174",
    "sign_rules": "143392bf16c1",
    "sign_watches": "5157c0a0dfe1",
    "sign_states": "d0b313da51b4",
    "sign_baseline": "260a32d0532b",
    "simulated_kinds": "7ad7a7bc0213",
    "simulated_measures": "abf453d0007d",
    "trial_designs": "ad985fd0bc9f",
    "zone_territories": "4514fea26ef0",
    "zones": "c39a29d0fd9b",
}

#: American Academy of Orthopaedic Surgeons 1965, degrees, from memory; those with "?" are doubtful
JOINTS = """
    wrist: flexion 80, extension 70, radial 20, ulnar 30
    forearm: pronation 80, supination 80
    elbow: flexion 150, extension 0
    shoulder: flexion 180, extension 60, abduction 180, internal rotation 70, external rotation 90
    finger mcp: flexion 90, hyperextension 45?
    finger pip: flexion 100
    finger dip: flexion 90, hyperextension 10?
    thumb cmc: abduction 70?, flexion 15?, extension 20?
    thumb mcp: flexion 50?
    thumb ip: flexion 80?, extension 20?
    neck: flexion 45?, extension 45?, side bend 45?, rotation 60?
"""


def mark(table: tuple[dict[str, str], ...]) -> str:
    return hashlib.sha256(repr([sorted(row.items()) for row in table]).encode()).hexdigest()[:12]


def test_every_table_has_its_mark():
    there = {f.name.removesuffix(".csv") for f in files("chirotend.core").joinpath("tables").iterdir()}
    assert {name for name in there if not name.startswith("__")} == set(MARKS)


@pytest.mark.parametrize("name", MARKS)
def test_no_cell_of_a_table_changes_unseen(name):
    assert mark(rows(name)) == MARKS[name], "say why in the changelog, and change the mark here"


@pytest.mark.parametrize("name", MARKS)
def test_a_changed_cell_changes_the_mark(name):
    first, *rest = rows(name)
    for column in first:
        assert mark(({**first, column: first[column] + "1"}, *rest)) != MARKS[name]


def test_every_joint_range_is_the_one_written_out_here():
    expected = set()
    for line in JOINTS.strip().splitlines():
        joint, _, moves = line.strip().partition(": ")
        for move in moves.split(", "):
            name, _, degrees = move.rpartition(" ")
            status = "from memory, doubtful" if degrees.endswith("?") else "from memory"
            expected.add((joint, name, float(degrees.rstrip("?")), status))
    assert {(r.joint, r.movement, r.deg, r.status) for r in ranges()} == expected
