"""Help: a question is found by a player's words, and leads to a page that is there."""

import pytest

from chirotend.library.loader import help_questions
from chirotend.services.help.questions import questions


@pytest.mark.parametrize(
    ("words", "first"),
    [
        ("getting worse", "worse"),
        ("SURGERY", "happened"),
        ("therapist", "doctor"),
        ("thumb rest", "hold"),
        ("excel", "bring"),
        ("pedal", "keys"),
        ("tingle", "mark"),
        ("baseline", None),
    ],
)
def test_a_question_is_found_by_the_words_of_a_player(words, first):
    found = [q.id for q in questions(words)]
    assert (first in found) if first else found == []


def test_without_a_word_all_stand_in_their_order():
    assert questions("  ") == help_questions() and len({q.ask for q in help_questions()}) == len(help_questions())


@pytest.mark.parametrize("page", sorted({q.page.partition("#")[0] for q in help_questions() if q.page}))
def test_the_page_of_an_answer_is_there(client, page):
    assert client.get(page).status_code == 200
