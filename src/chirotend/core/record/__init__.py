"""The record described: its words, what a session, a check and a day hold, and the whole of a span of days."""

from chirotend.core.record.check import Check, Entry, Mark, Place
from chirotend.core.record.day import DayNote
from chirotend.core.record.record import Record
from chirotend.core.record.session import Block, Session, overlap

__all__ = ["Block", "Check", "DayNote", "Entry", "Mark", "Place", "Record", "Session", "overlap"]
