"""Is it getting worse: each place with a mark in twelve weeks as a line against its usual, with one sentence."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

from chirotend.core.judge.signs.course import DAYS, Course, Direction, marked_courses
from chirotend.drawing.measured import Picture
from chirotend.drawing.sign_days import sign_days
from chirotend.services.body.said_signs import became_of_signs, became_words
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.words import capital, date_words, day_words, listed, place_name, sentence

WIDE, PHONE, PHONE_DAYS = 800.0, 350.0, 42
HIGH = 64.0


@dataclass(frozen=True)
class PlaceLine:
    """A place: its course, its name, where it goes in one sentence, and its days drawn wide and for a phone."""

    course: Course
    name: str
    going: str
    wide: Picture
    phone: Picture


@dataclass(frozen=True)
class GettingWorsePage:
    """The answer in one sentence, the places behind it, the most urgent first, and what became of signs told before."""

    answer: str
    lines: tuple[PlaceLine, ...]
    past_signs: tuple[str, ...]


def getting_worse_page(context: Context) -> GettingWorsePage:
    """Return the page of the last twelve weeks."""
    courses = marked_courses(todays_call(context).evidence)
    past_signs = became_words(became_of_signs(context))
    return GettingWorsePage(_answer(courses), tuple(map(_line, courses)), past_signs)


def _answer(courses: Sequence[Course]) -> str:
    worse = [place_name(c.place) for c in courses if c.direction in (Direction.RISEN, Direction.UP)]
    return sentence("place", "getting_worse", places=listed(worse)) if worse else headline(courses)


def headline(courses: Sequence[Course]) -> str:
    """Return in one sentence what the most urgent of the courses does."""
    if not courses:
        return sentence("place", "nothing_marked_anywhere")
    first = courses[0]
    place = capital(place_name(first.place))
    match first.direction:
        case Direction.RISEN if first.risen_since is not None:
            return sentence("place", "place_risen", place=place, since=date_words(first.risen_since))
        case Direction.UP:
            return sentence("place", "place_up", place=place)
        case Direction.DOWN:
            return sentence("place", "place_down", place=place)
        case Direction.LEVEL:
            return sentence("place", "all_as_before")
    return sentence("place", "too_few_weeks")


def going(course: Course) -> str:
    """Return in one sentence where a place goes."""
    if course.risen_since is not None:
        return sentence("place", "risen", since=day_words(course.risen_since))
    return weeks_words(course)


def weeks_words(course: Course) -> str:
    """Return in one sentence where the weeks of a place go."""
    match course.direction_of_weeks:
        case Direction.UP:
            return sentence("place", "trend_up")
        case Direction.DOWN:
            return sentence("place", "trend_down")
        case Direction.LEVEL:
            return sentence("place", "no_trend")
    return sentence("place", "no_trend_known")


def _line(course: Course) -> PlaceLine:
    phone_first = course.first + timedelta(days=DAYS - PHONE_DAYS)
    return PlaceLine(
        course,
        capital(place_name(course.place)),
        going(course),
        sign_days(course.first, course.strengths, course.usual, course.risen_since, WIDE, HIGH),
        sign_days(phone_first, course.strengths[-PHONE_DAYS:], course.usual, course.risen_since, PHONE, HIGH),
    )
