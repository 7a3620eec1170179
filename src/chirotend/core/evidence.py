"""Where a rule or a number comes from."""

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class Source:
    """A citation, or the plain statement that there is none.

    `from_memory` is true while nobody has opened the cited page to compare.
    """

    citation: str
    kind: Literal["published", "common practice"]
    from_memory: bool = True

    def __str__(self) -> str:
        if self.kind == "common practice":
            return self.citation
        return f"{self.citation} (from memory, not yet checked)" if self.from_memory else self.citation


COMMON_PRACTICE = Source("common practice, no source; not yet reviewed by a clinician", "common practice")
