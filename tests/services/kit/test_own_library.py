"""Entries of her own in the library."""

import pytest

from chirotend.services.context import FieldError
from chirotend.services.kit import own_library
from chirotend.services.record import corrections
from chirotend.services.today import warmup_inputs


def test_an_item_of_her_own_is_checked_like_the_shipped_ones_and_can_be_taken_out(context):
    uid = own_library.add(context, "instrument", {"name": "Glass bassoon", "family": "thumb_winds"})
    assert own_library.name_of(context, uid) == "Glass bassoon" and uid in own_library.instruments(context)
    own = own_library.add(
        context,
        "exercise",
        {
            "name": "Mother’s shake",
            "families": ["all"],
            "stage": "release",
            "minutes": "1.5",
            "hands": "both",
            "how": "Shake, smile.",
            "zones_loaded": [],
        },
    )
    assert own in {e.id for e in warmup_inputs.exercises_for(context, "bassoon")}
    own_library.add(
        context,
        "grip",
        {"name": "Thumb off", "kind": "hold", "families": ["sticks_mallets"], "hand": "either", "motion": ["fingers"]},
    )
    assert corrections.offered(context) is not None
    own_library.remove(context, "instrument", uid)
    assert uid not in own_library.instruments(context)


def test_names_in_any_script_stay_apart_and_the_same_name_is_the_same_entry(context):
    names = ("Fagott α", "Fagott β", "Fagott", "尺八", "笛", "Kontrabaß")
    ids = [own_library.add(context, "instrument", {"name": name, "family": "thumb_winds"}) for name in names]
    assert len(set(ids)) == len(names) and set(ids) <= set(own_library.instruments(context))
    assert [own_library.name_of(context, uid) for uid in ids] == list(names)
    assert [own_library.add(context, "instrument", {"name": n, "family": "recorders"}) for n in names] == ids
    with pytest.raises(FieldError, match="at least one letter or digit"):
        own_library.add(context, "instrument", {"name": "!?", "family": "thumb_winds"})


@pytest.mark.parametrize(
    ("kind", "document", "field"),
    [
        ("instrument", {"name": "", "family": "flutes"}, "name"),
        ("instrument", {"name": "???", "family": "flutes"}, "name"),
        ("instrument", {"name": "x", "family": "kazoos"}, "family"),
        ("exercise", {"name": "x", "families": []}, "family"),
        (
            "exercise",
            {"name": "x", "families": ["all"], "stage": "sleep", "minutes": 1, "hands": "both", "how": ""},
            "stage",
        ),
        (
            "exercise",
            {"name": "x", "families": ["all"], "stage": "release", "minutes": "ten", "hands": "both", "how": ""},
            "minutes",
        ),
        ("grip", {"name": "x", "kind": "k", "families": ["all"], "hand": "foot", "motion": []}, "hand"),
    ],
)
def test_an_own_item_that_cannot_be_is_refused_at_its_field(context, kind, document, field):
    with pytest.raises(FieldError) as refused:
        own_library.add(context, kind, document)
    assert refused.value.field == field
