"""What is kept in memory of a diary is found by the one that forgets it."""

import functools
import importlib
import inspect
import pkgutil

import chirotend
from chirotend.core import memos

#: functions whose kept answers are of what ships, never of a player: what they are asked with is named in the code
KNOWLEDGE = {
    "chirotend.core.fit.strings",
    "chirotend.core.measure.limits",
    "chirotend.core.measure.rula",
    "chirotend.core.judge.rules",
    "chirotend.core.judge.signs.own_threshold",
    "chirotend.core.plan.cycles",
    "chirotend.core.record.shape",
    "chirotend.core.session.ladder",
    "chirotend.core.tables",
    "chirotend.core.trial.order",
    "chirotend.drawing.holds",
    "chirotend.drawing.pictures",
    "chirotend.drawing.score",
    "chirotend.formats.diary.words",
    "chirotend.library.loader",
    "chirotend.library.probes",
    "chirotend.services.record.bring.menus",
    "chirotend.services.record.row_shapes",
    "chirotend.store.repository",
    "chirotend.web.assets",
}


def test_kept_answers_are_forgotten_and_worked_out_again():
    asked = []
    memo = memos.by_value(8)(lambda word: asked.append(word) or word.upper())
    assert (memo("reed"), memo("reed"), asked) == ("REED", "REED", ["reed"])
    memos.forget_diaries()
    assert (memo("reed"), asked) == ("REED", ["reed", "reed"])


def test_nothing_that_is_asked_with_a_players_values_is_kept_apart_from_the_one_that_forgets():
    for found in pkgutil.walk_packages(chirotend.__path__, "chirotend."):
        if "migrations" in found.name or found.name == "chirotend.camera.__main__":  # a program of its own, elsewhere
            continue
        for name, value in vars(importlib.import_module(found.name)).items():
            kept = isinstance(value, functools._lru_cache_wrapper) and value.__module__ == found.name
            if kept and inspect.signature(value).parameters:
                assert found.name in KNOWLEDGE, f"{found.name}.{name} keeps what is asked: use core.memos"
