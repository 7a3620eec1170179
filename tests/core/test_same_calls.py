"""Making the judgement faster or tidier must not make it another: 12,000 calls of 200 random diaries, as recorded.

Recorded before the judgement was made faster. Where a rule is changed on purpose, raise the version of the rules and
record again: `python -m tests.core.test_same_calls`.
"""

from pathlib import Path

from tests.core.random_diaries import said

RECORDED = Path(__file__).parent.parent / "data" / "calls_of_two_hundred_diaries.txt"
DIARIES = 200


def recorded() -> dict[int, str]:
    return {int(number): digest for number, digest in map(str.split, RECORDED.read_text().splitlines())}


def test_every_call_of_two_hundred_diaries_is_the_one_recorded():
    assert {n: said(n)[0] for n in range(DIARIES)} == recorded()


def test_the_diaries_lead_to_every_call():
    called = sum((said(n)[1] for n in range(0, DIARIES, 8)), start=said(0)[1])
    assert set(called) == {"open", "muted_mp", "muted_pp", "tacet", "not_enough"}


if __name__ == "__main__":
    RECORDED.write_text("".join(f"{n} {said(n)[0]}\n" for n in range(DIARIES)))
