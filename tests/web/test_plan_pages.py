"""The pages of the plan."""

import io

import pytest

from tests.web.steps import HTMX, a_laid_block, plan_uid


@pytest.mark.parametrize("data", [b"", b"\x89PNG\r\n", b"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART:yesterday\r\n"])
def test_a_file_that_is_no_calendar_is_refused(client, data):
    answer = client.post("/plan/calendar", data={"calendar": (io.BytesIO(data), "x.ics")})
    assert answer.status_code == 422 or "0 new" in answer.text


def test_a_calendar_comes_in_and_the_plan_goes_out(client):
    lines = ("BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//x//EN", "BEGIN:VEVENT", "UID:a", "DTSTART:20261118T180000Z")
    lines += ("DTEND:20261118T210000Z", "SUMMARY:Dress rehearsal", "END:VEVENT", "END:VCALENDAR", "")
    text = "\r\n".join(lines)
    answer = client.post("/plan/calendar", data={"calendar": (io.BytesIO(text.encode()), "x.ics")})
    assert "1 new" in answer.text
    a_laid_block(client)
    out = client.get("/plan/plan.ics")
    assert out.mimetype == "text/calendar" and "Dress rehearsal" in out.text and "SUMMARY:Thirds" in out.text
    uid = plan_uid(client, r"/plan/calendar/(\w+)/take-back", answer.text)
    assert client.post(f"/plan/calendar/{uid}/take-back").status_code == 302
    assert "Dress rehearsal" not in client.get("/plan/?week=2026-11-16").text
    assert client.post(f"/plan/calendar/{uid}/take-back").status_code == 404


def test_a_block_is_moved_refused_and_rubbed_out_as_a_part(client):
    uid = a_laid_block(client)
    moved = client.post(f"/plan/block/{uid}/move", data={"week": "2026-11-16", "minutes": "30"}, headers=HTMX)
    assert moved.status_code == 200 and f'data-chosen="{uid}"' in moved.text and "<html" not in moved.text
    refused = client.post(f"/plan/block/{uid}/move", data={"week": "2026-11-16", "longer": "999"}, headers=HTMX)
    assert refused.status_code == 422 and "5 to 180 minutes" in refused.text
    assert client.post(f"/plan/block/{uid}/rub-out", data={"week": "2026-11-16"}).status_code == 302
    assert client.post(f"/plan/block/{uid}/move", data={"minutes": "15"}).status_code == 404


def test_a_date_is_asked_and_taken(client):
    asked = client.get("/plan/?line=Sa+28,+10.00,+octet,+3+h")
    assert asked.status_code == 302 and "week=2026-11-23" in asked.headers["Location"]
    page = client.get(asked.headers["Location"]).text
    assert "Yes, you can take it." in page and "Take it" in page
    assert client.get("/plan/?line=octet").status_code == 422
    taken = client.post("/plan/take", data={"line": "Sa 28, 10.00, octet, 3 h"})
    assert taken.status_code == 302
    assert "octet" in client.get(taken.headers["Location"]).text


def test_an_engagement_is_written_in_as_planned_on_today(client, clock):
    client.post(
        "/plan/engagement",
        data={"title": "Rehearsal", "day": "2026-11-12", "start": "08:00", "end": "09:00", "minutes": "40"},
    )
    page = client.get("/").text
    assert "It was as planned" in page
    uid = plan_uid(client, r"/plan/engagement/(\w+)/as-planned", page)
    assert client.post(f"/plan/engagement/{uid}/as-planned", data={"effort": "7"}).status_code == 302
    assert "As planned" not in client.get("/").text
    assert "40 min" in client.get("/").text
    assert client.post(f"/plan/engagement/{uid}/as-planned").status_code == 422


def test_another_use_of_the_hands_takes_two_taps(client):
    page = client.get("/").text
    assert page.count('<summary class="btn-line">') >= 6  # the first tap opens, the second writes
    assert client.post("/use", data={"use": "gym", "use_minutes": "45"}).status_code == 302
    assert "Gym" in client.get("/").text and "Undo" in client.get("/").text
