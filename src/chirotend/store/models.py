"""The tables. Every personal row begins its key with the player; instants are UTC, days are practice days."""

from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import Any, ClassVar

from sqlalchemy import JSON, DateTime, ForeignKey, ForeignKeyConstraint, Index, MetaData, String, Text, TypeDecorator
from sqlalchemy.engine import Dialect
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class UTCDateTime(TypeDecorator[datetime]):
    """An instant: aware in Python, stored as UTC without a zone."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return None if value is None else value.replace(tzinfo=UTC)


#: every timing of a mark but the night
DAY_TIMINGS = "playing after waking daily"
NAMES = {
    "ix": "ix_%(column_0_label)s",
    "uq": "uq_%(table_name)s_%(column_0_name)s",
    "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
    "pk": "pk_%(table_name)s",
}


class Base(DeclarativeBase):
    metadata = MetaData(naming_convention=NAMES)
    type_annotation_map = {datetime: UTCDateTime, dict[str, Any]: JSON, list[Any]: JSON, str: Text}


class AccountRow(Base):
    __tablename__ = "account"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80), unique=True)
    #: the name as it is compared, whatever its case
    name_key: Mapped[str] = mapped_column(String(320), server_default="")
    password_hash: Mapped[str]
    created_utc: Mapped[datetime]
    __table_args__ = (Index("ix_account_name_key", "name_key", unique=True),)


class BrowserRow(Base):
    """A browser that is signed in; only the digest of what its cookie holds is kept. Signing out deletes the row."""

    __tablename__ = "browser"
    digest: Mapped[str] = mapped_column(String(64), primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("account.id", ondelete="CASCADE"))
    created_utc: Mapped[datetime]
    #: when it was last here, to the half day
    seen_utc: Mapped[datetime]
    #: what it is on, in plain words
    agent: Mapped[str] = mapped_column(String(200))
    __table_args__ = (Index("ix_browser_account", "account_id"),)


class SetupLinkRow(Base):
    """A one-time link to make one account; only its digest is kept."""

    __tablename__ = "setup_link"
    digest: Mapped[str] = mapped_column(String(64), primary_key=True)
    created_utc: Mapped[datetime]
    #: the name to sign in with it was printed for; "" = the first account, of any name
    name: Mapped[str] = mapped_column(String(80), server_default="")


class PlayerRow(Base):
    __tablename__ = "player"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80))
    zone: Mapped[str] = mapped_column(String(64))
    #: what she plays, in her order: ids of the library
    instruments: Mapped[list[Any]]
    #: "" until she enters hers
    emergency_number: Mapped[str] = mapped_column(String(40), default="")
    units: Mapped[str] = mapped_column(String(8), default="metric")
    letter_keys: Mapped[bool] = mapped_column(default=True)
    created_utc: Mapped[datetime]


class GrantRow(Base):
    """Joins an account with a player's record."""

    __tablename__ = "grant"
    account_id: Mapped[int] = mapped_column(ForeignKey("account.id", ondelete="CASCADE"), primary_key=True)
    player_id: Mapped[int] = mapped_column(ForeignKey("player.id", ondelete="CASCADE"), primary_key=True)


@dataclass(frozen=True)
class InRecord:
    """What a table is called where its rows are taken along with the record, changed and undone.

    `table`: the name of its list in the JSON record. `subject`: what one row is called in the history of changes, up to
    12 letters; "" = its rows are not undone one by one. `order`: the columns the list is ordered by, then by key.
    """

    table: str
    subject: str = ""
    order: tuple[str, ...] = ()


class Personal(Base):
    """A row that belongs to one player.

    `in_record`: None = a table that is not taken along as it is: written in other words, or of use here alone.
    """

    __abstract__ = True
    in_record: ClassVar[InRecord | None] = None
    player_id: Mapped[int] = mapped_column(ForeignKey("player.id", ondelete="CASCADE"), primary_key=True, sort_order=-1)


class SessionRow(Personal):
    __tablename__ = "session"
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    day: Mapped[date]
    start_utc: Mapped[datetime | None]
    end_utc: Mapped[datetime | None]
    effort: Mapped[float | None]
    went_well: Mapped[str] = mapped_column(default="")
    was_hard: Mapped[str] = mapped_column(default="")
    question: Mapped[str] = mapped_column(default="")
    __table_args__ = (Index("ix_session_day", "player_id", "day"),)


class BlockRow(Personal):
    __tablename__ = "block"
    session_uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    position: Mapped[int] = mapped_column(primary_key=True)
    minutes: Mapped[float]
    instrument: Mapped[str] = mapped_column(String(80), default="")
    kind: Mapped[str] = mapped_column(String(20))
    effort: Mapped[float | None]
    dynamic: Mapped[str | None] = mapped_column(String(4))
    tempo_bpm: Mapped[float | None]
    #: the laid block it was played as
    planned: Mapped[str] = mapped_column(String(64), default="", server_default="")
    #: a grip or hold, and a seat or support, of the library or her own; "" = not said
    grip: Mapped[str] = mapped_column(String(64), default="", server_default="")
    posture: Mapped[str] = mapped_column(String(64), default="", server_default="")
    __table_args__ = (
        ForeignKeyConstraint(["player_id", "session_uid"], ["session.player_id", "session.uid"], ondelete="CASCADE"),
    )


class CheckRow(Personal):
    __tablename__ = "check"
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    day: Mapped[date]
    timing: Mapped[str] = mapped_column(String(12))
    at_utc: Mapped[datetime | None]
    other_uses: Mapped[str | None] = mapped_column(String(8))
    #: codes, space between
    red_flags: Mapped[str] = mapped_column(default="")
    __table_args__ = (Index("ix_check_day", "player_id", "day", "timing", unique=True),)


class EntryRow(Personal):
    __tablename__ = "entry"
    check_uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    position: Mapped[int] = mapped_column(primary_key=True)
    zone: Mapped[str] = mapped_column(String(40))
    side: Mapped[str] = mapped_column(String(5))
    kind: Mapped[str] = mapped_column(String(12))
    intensity: Mapped[float]
    lasting: Mapped[str | None] = mapped_column(String(8))
    flags: Mapped[str] = mapped_column(default="")
    eased: Mapped[str | None] = mapped_column(String(12))
    __table_args__ = (
        ForeignKeyConstraint(["player_id", "check_uid"], ["check.player_id", "check.uid"], ondelete="CASCADE"),
    )


class DayRow(Personal):
    __tablename__ = "day"
    day: Mapped[date] = mapped_column(primary_key=True)
    off: Mapped[bool] = mapped_column(default=False)
    sleep: Mapped[str | None] = mapped_column(String(8))
    hands: Mapped[str | None] = mapped_column(String(8))
    note: Mapped[str] = mapped_column(default="")


class DayStampRow(Personal):
    """Stands for a day that holds anything; another stamp with every write to it. Derived: never exported."""

    __tablename__ = "day_stamp"
    day: Mapped[date] = mapped_column(primary_key=True)
    stamp: Mapped[str] = mapped_column(String(16))


class RunningSessionRow(Personal):
    """A session that has begun and is not written in yet: its events have a start and no close. Derived."""

    __tablename__ = "sitting"
    session_uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    began_utc: Mapped[datetime]


class EventRow(Personal):
    """An appended event of a session; never changed."""

    __tablename__ = "event"
    in_record = InRecord("events", order=("at_utc",))
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    session_uid: Mapped[str] = mapped_column(String(64))
    device: Mapped[str] = mapped_column(String(64))
    seq: Mapped[int]
    at_utc: Mapped[datetime]
    monotonic_ms: Mapped[float | None]
    kind: Mapped[str] = mapped_column(String(12))
    payload: Mapped[dict[str, Any]]
    __table_args__ = (Index("ix_event_session", "player_id", "session_uid"),)


class DeviceTouchRow(Personal):
    """An answer that waited on a device and was taken, by the id the device gave it: it is taken once. Derived."""

    __tablename__ = "taken"
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    at_utc: Mapped[datetime]


class CallRow(Personal):
    """A call as it was said: a later one of the same day has a higher number, none is rewritten."""

    __tablename__ = "call"
    in_record = InRecord("calls")
    day: Mapped[date] = mapped_column(primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    issued_utc: Mapped[datetime]
    version: Mapped[int]
    call: Mapped[str] = mapped_column(String(12))
    row: Mapped[int]
    findings: Mapped[list[Any]]
    dose: Mapped[dict[str, Any]]
    standing: Mapped[dict[str, Any]]
    #: the call she made it instead, and why
    overrule: Mapped[str | None] = mapped_column(String(12))
    reason: Mapped[str] = mapped_column(default="")


class ClearanceRow(Personal):
    """The answer "seen by a clinician", with the dose to start with (minutes a day)."""

    __tablename__ = "clearance"
    in_record = InRecord("clearances")
    at_utc: Mapped[datetime] = mapped_column(primary_key=True)
    start_dose_min: Mapped[float]


class ProfileRow(Personal):
    """What she says of herself: her hands, her room, her habits of practice. Keys as in `services/profile.py`."""

    __tablename__ = "profile"
    in_record = InRecord("profile", subject="profile")
    data: Mapped[dict[str, Any]]


class MeasurementRow(Personal):
    """A value measured on the player: by which method and version, which hand or instrument, with its unit."""

    __tablename__ = "measurement"
    in_record = InRecord("measurements", subject="measurement", order=("day",))
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    day: Mapped[date]
    at_utc: Mapped[datetime]
    method: Mapped[str] = mapped_column(String(40))
    version: Mapped[int]
    instrument: Mapped[str] = mapped_column(String(80), default="")
    hand: Mapped[str] = mapped_column(String(5), default="")
    value: Mapped[float]
    unit: Mapped[str] = mapped_column(String(8))
    #: what it was measured on (a note, a figure, a stick); values of different ones are no series
    what: Mapped[str] = mapped_column(String(80), default="", server_default="")
    #: the probe it came from; "" = typed by itself
    probe: Mapped[str] = mapped_column(String(64), default="", server_default="")
    __table_args__ = (Index("ix_measurement_method", "player_id", "method", "hand"),)


class ProbeRow(Personal):
    """A deliberate measurement: what was looked at, on which instrument and hand, and all it was made of.

    `data` holds what its kind needs to be worked out again (answers of a search, points on a picture, onsets); the
    values that came of it are measurements that name it.
    """

    __tablename__ = "probe"
    in_record = InRecord("probes", subject="probe", order=("day",))
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    day: Mapped[date]
    at_utc: Mapped[datetime]
    kind: Mapped[str] = mapped_column(String(16))
    instrument: Mapped[str] = mapped_column(String(80), default="")
    hand: Mapped[str] = mapped_column(String(5), default="")
    #: a note, a figure, a stick, a template of points
    what: Mapped[str] = mapped_column(String(80), default="")
    #: what was played on or with, in her words: a value with another reed is joined to none with this one
    kit: Mapped[str] = mapped_column(String(80), default="")
    #: open while it goes on, done when its values are kept
    state: Mapped[str] = mapped_column(String(8), default="open")
    data: Mapped[dict[str, Any]]
    #: the name of the file of its picture, sound or trace, 64 hexadecimal digits; "" = it has none
    blob: Mapped[str] = mapped_column(String(64), default="")
    media: Mapped[str] = mapped_column(String(40), default="")
    bytes: Mapped[int] = mapped_column(default=0)
    __table_args__ = (Index("ix_probe_kind", "player_id", "kind", "day"),)


class KitRow(Personal):
    """A thing she plays with or on: instrument, stick, bow, strap, rest, peg, chair. Masses g, lengths mm."""

    __tablename__ = "kit"
    in_record = InRecord("kit", subject="kit")
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    kind: Mapped[str] = mapped_column(String(20))
    name: Mapped[str] = mapped_column(String(120))
    instrument: Mapped[str] = mapped_column(String(80), default="")
    mass_g: Mapped[float | None]
    length_mm: Mapped[float | None]
    balance_mm: Mapped[float | None]
    #: where it is set: thumb rest, strap hook, peg (mm)
    setting_mm: Mapped[float | None]
    service_on: Mapped[date | None]
    service_months: Mapped[int | None]
    back_on: Mapped[date | None]
    note: Mapped[str] = mapped_column(default="")


class OwnItemRow(Personal):
    """An instrument, grip or exercise of her own, in the library's schema."""

    __tablename__ = "own_item"
    in_record = InRecord("own_items", subject="own_item")
    kind: Mapped[str] = mapped_column(String(12), primary_key=True)
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    document: Mapped[dict[str, Any]]


class WarmupRow(Personal):
    """A day's warm-up: the exercises as composed and changed, for the fortnight's memory."""

    __tablename__ = "warmup"
    in_record = InRecord("warmups")
    day: Mapped[date] = mapped_column(primary_key=True)
    wish: Mapped[dict[str, Any]]
    steps: Mapped[list[Any]]


class TakeRow(Personal):
    """A recording she made: where its sound lies, how long it is, whether it is kept in the archive."""

    __tablename__ = "take"
    in_record = InRecord("takes", order=("at_utc",))
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    day: Mapped[date]
    at_utc: Mapped[datetime]
    title: Mapped[str] = mapped_column(String(120), default="")
    instrument: Mapped[str] = mapped_column(String(80), default="")
    seconds: Mapped[float]
    bytes: Mapped[int]
    #: the name of the file of its sound, 64 hexadecimal digits
    blob: Mapped[str] = mapped_column(String(64))
    media: Mapped[str] = mapped_column(String(40))
    kept: Mapped[bool] = mapped_column(default=False)


class KnownRow(Personal):
    """A complaint that a clinician has seen and that is known and stable, until its review."""

    __tablename__ = "known"
    in_record = InRecord("known", subject="known", order=("since",))
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    region: Mapped[str] = mapped_column(String(40))
    side: Mapped[str] = mapped_column(String(8))
    kind: Mapped[str] = mapped_column(String(12))
    level: Mapped[float]
    #: the day she was seen
    seen_on: Mapped[date]
    since: Mapped[date]
    review: Mapped[date]
    lasts: Mapped[bool] = mapped_column(default=False)
    at_night: Mapped[bool] = mapped_column(default=False)
    #: when it is felt, nights apart, in words with spaces between
    timings: Mapped[str] = mapped_column(String(60), default=DAY_TIMINGS, server_default=DAY_TIMINGS)


class HappeningRow(Personal):
    """Something that happened beside the playing, and what someone licensed allowed: `core/judge/happened.py`."""

    __tablename__ = "happening"
    in_record = InRecord("happenings", subject="happening", order=("day",))
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    kind: Mapped[str] = mapped_column(String(12))
    #: when it was, or began; None for `until` = it has not ended
    day: Mapped[date]
    until: Mapped[date | None]
    answer: Mapped[str] = mapped_column(String(14), default="")
    zone: Mapped[str] = mapped_column(String(40), default="")
    side: Mapped[str] = mapped_column(String(5), default="")
    #: minutes a day that someone licensed allowed, from a day on, until a day (None = until she changes it)
    allowed_min: Mapped[float | None]
    allowed_from: Mapped[date | None]
    allowed_until: Mapped[date | None]
    #: instruments that were ruled out
    not_on: Mapped[list[Any]] = mapped_column(JSON, default=list)
    said_by: Mapped[str] = mapped_column(String(120), default="")
    #: her own words of it
    words: Mapped[str] = mapped_column(default="")


class MatterRow(Personal):
    """An open matter: advice to be seen, or an errand, with the first day it was said and the day it is due."""

    __tablename__ = "matter"
    in_record = InRecord("matters", subject="matter", order=("first_day",))
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    #: see (a doctor or hand therapist) or errand
    kind: Mapped[str] = mapped_column(String(8))
    #: the finding that raised it, and the place; "" = she wrote it herself, or it is about no one place
    code: Mapped[str] = mapped_column(String(24), default="")
    region: Mapped[str] = mapped_column(String(20), default="")
    side: Mapped[str] = mapped_column(String(5), default="")
    title: Mapped[str] = mapped_column(String(120), default="")
    advised_by: Mapped[str] = mapped_column(String(120), default="")
    first_day: Mapped[date]
    due: Mapped[date]
    #: open, booked, not_now, seen or done; the last two settle it
    state: Mapped[str] = mapped_column(String(8), default="open")
    booked_for: Mapped[date | None]
    settled_on: Mapped[date | None]
    #: what she answered: [day, state, her words], oldest first
    history: Mapped[list[Any]] = mapped_column(JSON, default=list)


class SignAnswerRow(Personal):
    """What she answered to a sign of a place: "not so" settles it until that day, a cause she knows until it ended."""

    __tablename__ = "sign_answer"
    in_record = InRecord("sign_answers", subject="sign_answer", order=("day",))
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    region: Mapped[str] = mapped_column(String(40))
    side: Mapped[str] = mapped_column(String(8))
    day: Mapped[date]
    answer: Mapped[str] = mapped_column(String(12))
    note: Mapped[str] = mapped_column(default="")
    #: the day a known cause ended
    ended: Mapped[date | None]


class EngagementRow(Personal):
    """Something in her calendar; `source` names the calendar entry it came from, `import_uid` the import."""

    __tablename__ = "engagement"
    in_record = InRecord("engagements", subject="engagement", order=("start_utc",))
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    day: Mapped[date]
    start_utc: Mapped[datetime]
    end_utc: Mapped[datetime]
    kind: Mapped[str] = mapped_column(String(12))
    title: Mapped[str] = mapped_column(String(200))
    instrument: Mapped[str] = mapped_column(String(80), default="")
    minutes: Mapped[float]
    effort: Mapped[float]
    source: Mapped[str] = mapped_column(String(400), default="")
    import_uid: Mapped[str] = mapped_column(String(64), default="")
    #: why it was taken against the answer
    reason: Mapped[str] = mapped_column(default="")
    #: the session it was written in as
    session_uid: Mapped[str] = mapped_column(String(64), default="")
    __table_args__ = (Index("ix_engagement_day", "player_id", "day"),)


class AimRow(Personal):
    """A small aim for the week that begins on `week` (a Monday)."""

    __tablename__ = "aim"
    in_record = InRecord("aims", subject="aim", order=("week",))
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    week: Mapped[date]
    title: Mapped[str] = mapped_column(String(120))
    minutes: Mapped[float]
    effort: Mapped[float]
    instrument: Mapped[str] = mapped_column(String(80), default="")
    new_hard: Mapped[bool] = mapped_column(default=False)
    manner: Mapped[str] = mapped_column(String(8), default="soft")
    #: a grip or hold, and a seat or support, of the library or her own, to play it with
    grip: Mapped[str] = mapped_column(String(64), default="")
    posture: Mapped[str] = mapped_column(String(64), default="", server_default="")
    weight: Mapped[float] = mapped_column(default=1.0)
    #: what the planner could not lay, and why, when it last laid the week
    unlaid: Mapped[str] = mapped_column(default="")
    done: Mapped[bool] = mapped_column(default=False)
    __table_args__ = (Index("ix_aim_week", "player_id", "week"),)


class PlannedRow(Personal):
    """Own practice laid in its place, by the planner or by hand."""

    __tablename__ = "planned"
    in_record = InRecord("planned", subject="planned", order=("start_utc",))
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    day: Mapped[date]
    start_utc: Mapped[datetime]
    minutes: Mapped[float]
    aim_uid: Mapped[str] = mapped_column(String(64), default="")
    title: Mapped[str] = mapped_column(String(120), default="")
    instrument: Mapped[str] = mapped_column(String(80), default="")
    effort: Mapped[float]
    laid_by: Mapped[str] = mapped_column(String(8))
    __table_args__ = (Index("ix_planned_day", "player_id", "day"),)


class ChangeRow(Personal):
    """What stood before a correction. A deleted document stays only while undo is offered."""

    __tablename__ = "change"
    in_record = InRecord("changes")
    number: Mapped[int] = mapped_column(primary_key=True)
    at_utc: Mapped[datetime]
    #: the number of the first change of the same deed: they are undone together
    act: Mapped[int] = mapped_column(default=0, server_default="0")
    action: Mapped[str] = mapped_column(String(8))
    subject: Mapped[str] = mapped_column(String(12))
    key: Mapped[str] = mapped_column(String(80))
    before: Mapped[dict[str, Any] | None] = mapped_column(JSON)


class ProgrammeRow(Personal):
    """A programme that she began; `data` as the record's description has it. `ended` None = it runs."""

    __tablename__ = "programme"
    in_record = InRecord("programmes", subject="programme")
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    #: which one of the library
    programme: Mapped[str] = mapped_column(String(60))
    first: Mapped[date]
    ended: Mapped[date | None]
    data: Mapped[dict[str, Any]]
    #: what she wrote when it ended
    note: Mapped[str] = mapped_column(default="")


class TrialRow(Personal):
    """A change that is tried: what, measured by what, in which order of days; `data` as the record's description."""

    __tablename__ = "trial"
    in_record = InRecord("trials", subject="trial")
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    title: Mapped[str] = mapped_column(String(120))
    first: Mapped[date]
    #: its last day as planned
    last: Mapped[date]
    ended: Mapped[date | None]
    #: "" = not decided, kept, back
    outcome: Mapped[str] = mapped_column(String(8), default="")
    data: Mapped[dict[str, Any]]


class PartRow(Personal):
    """A written part that was brought: its notes and bars, for her instrument."""

    __tablename__ = "part"
    in_record = InRecord("parts", subject="part")
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    title: Mapped[str] = mapped_column(String(120))
    instrument: Mapped[str] = mapped_column(String(80), default="")
    day: Mapped[date]
    #: her own tempo as a share of the written one (1 = as written)
    pace: Mapped[float] = mapped_column(default=1.0)
    data: Mapped[dict[str, Any]]


class ReportRow(Personal):
    """A page for a clinician, a teacher or a repairer: its span, and what she typed for it."""

    __tablename__ = "report"
    in_record = InRecord("reports", subject="report")
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    audience: Mapped[str] = mapped_column(String(12))
    first: Mapped[date]
    last: Mapped[date]
    made_utc: Mapped[datetime]
    data: Mapped[dict[str, Any]]


class ShareRow(Personal):
    """A report that opens without an account by a code, for ten minutes; `looks` counts how often it was opened."""

    __tablename__ = "share"
    #: SHA-256 of the code: the code itself is kept nowhere
    digest: Mapped[str] = mapped_column(String(64), primary_key=True)
    report: Mapped[str] = mapped_column(String(64))
    until_utc: Mapped[datetime]
    revoked: Mapped[bool] = mapped_column(default=False)
    looks: Mapped[int] = mapped_column(default=0)
    looked_utc: Mapped[datetime | None]
    __table_args__ = (Index("ix_share_digest", "digest", unique=True),)


class HabitRow(Personal):
    """How she keeps her diary: what the columns of a first line mean, and what her words mean."""

    __tablename__ = "habit"
    in_record = InRecord("habits")
    key: Mapped[str] = mapped_column(String(60), primary_key=True)
    document: Mapped[dict[str, Any]]


class BroughtRow(Personal):
    """A diary that was brought, with all that taking it back needs: what was written, and what stood before."""

    __tablename__ = "brought"
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    at_utc: Mapped[datetime]
    #: the deed of its changes, 0 = it changed nothing
    act: Mapped[int] = mapped_column(default=0)
    names: Mapped[str] = mapped_column(String(400))
    document: Mapped[dict[str, Any]]


class JobRow(Personal):
    """Work in the background: its progress, its result, and the wish to stop it."""

    __tablename__ = "job"
    uid: Mapped[str] = mapped_column(String(64), primary_key=True)
    kind: Mapped[str] = mapped_column(String(20))
    #: waiting, running, ready, saving, done, cancelled, failed
    state: Mapped[str] = mapped_column(String(12))
    #: the player's wish to stop it, kept through a restart
    cancel: Mapped[bool] = mapped_column(default=False)
    result: Mapped[dict[str, Any]]
    created_utc: Mapped[datetime]
