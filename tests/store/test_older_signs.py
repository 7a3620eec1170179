"""Signs of rows 1 and 2 are looked for in the database far back: no check the rules would speak of is missed there."""

from datetime import timedelta

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from chirotend.core.body.redflags import red_flags
from chirotend.core.judge.call_table import loss, urgent_signs
from chirotend.core.judge.evidence import Evidence
from chirotend.core.record import Check, Entry, Record
from chirotend.core.record.words import FLAGS, LASTING, SYMPTOM_KINDS

entries = st.builds(
    lambda kind, strength, lasting, flags: Entry("thumb_ball", "left", kind, strength, lasting, tuple(sorted(flags))),
    st.sampled_from(SYMPTOM_KINDS),
    st.integers(0, 10),
    st.none() | st.sampled_from(LASTING),
    st.sets(st.sampled_from(FLAGS), max_size=2),
)
flags = st.sets(st.sampled_from(sorted(red_flags())), max_size=1)


@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(entries, max_size=2), flags)
def test_what_rows_one_and_two_speak_of_is_found_however_old(context, found, signs):
    day = context.today - timedelta(days=400)
    check = Check("old", day, "after", tuple(found), tuple(signs))
    context.store.put_check(check)
    evidence = Evidence(Record(checks=(check,)), context.today, context.now)
    spoken_of = [f for f in (*urgent_signs(evidence), *loss(evidence)) if f.row in (1, 2)]
    read = context.store.record(context.today - timedelta(days=180), context.today, older_signs=True)
    assert not spoken_of or check in read.checks
    if not found and not signs:
        assert read.checks == ()
    context.store.drop_check(day, "after")
