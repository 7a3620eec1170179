"""The line of looks at herself on the bench."""

from chirotend.formats.probe_data import Awareness
from chirotend.services.context import Context
from chirotend.services.technique import awareness
from chirotend.services.technique.lines import ProbeLine, never_done
from chirotend.services.words import sentence


def line(context: Context) -> ProbeLine:
    """Return the look that was set most often this week, else the one that was answered last."""
    shown = awareness.shown(context)
    answered = [s for s in shown if s.last is not None]
    if not answered:
        return never_done(
            Awareness.kind,
            "Body awareness",
            sentence("technique", "looks_first"),
            "Answer one now",
            "technique.awareness",
        )
    most = max(answered, key=lambda s: (s.set, s.asked, s.last.day if s.last else None))
    last = max(s.last.day for s in answered if s.last)
    value, words = (
        (f"{most.set} of {most.asked}", f"set, {most.look.name.lower()}") if most.asked else ("–", "this week")
    )
    return ProbeLine(
        Awareness.kind,
        "Body awareness",
        last,
        value,
        words,
        most.picture,
        sentence("technique", "looks_set", look=most.look.name, times=most.set, asked=most.asked)
        if most.asked
        else sentence("technique", "looks_not_asked"),
        "Answer one now",
        "technique.awareness",
    )
