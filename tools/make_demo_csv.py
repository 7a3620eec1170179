"""Write the demo diaries from the simulated players: `python tools/make_demo_csv.py`. The result is committed."""

from pathlib import Path

from chirotend.demo import diary
from chirotend.formats import csv_log

DATA = Path(__file__).parents[1] / "src/chirotend/demo/data"


def main(data: Path = DATA) -> None:
    for name, record in (("bassoonist", diary.bassoonist()), ("steady", diary.steady())):
        (data / name).mkdir(parents=True, exist_ok=True)
        for file, text in csv_log.write_tables(record, diary.ZONE).items():
            (data / name / file).write_bytes(text.encode())


if __name__ == "__main__":
    main()
