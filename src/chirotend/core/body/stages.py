"""Fry's five stages of overuse, from the answers of a diary."""

from chirotend.core.errors import Inconsistent, check_range, check_word

OTHER_USES = ("none", "some", "all")


def fry_grade(pain_when_playing: bool, sites: int, persists_away: bool, other_uses: str, capacity_lost: bool) -> int:
    """Return the stage 0-5: the first rule from the top that fits.

    hand use lost 5; all common uses hurt 4; pain persists away from playing or some other uses hurt 3;
    two sites or more 2; one site 1; no pain 0. Fry 1986, Lancet 2:728-731, from memory; the tie-break is ours.

    Raises
    ------
    OutOfRange
        `sites` below 0 or `other_uses` not none, some or all.
    Inconsistent
        No site but another answer says yes, or sites without pain when playing.
    """
    check_range("sites", sites, low=0)
    check_word("other_uses", other_uses, OTHER_USES)
    if sites == 0 and (pain_when_playing or persists_away or other_uses != "none" or capacity_lost):
        raise Inconsistent("sites", "no site is named, but another answer says there is pain")
    if sites > 0 and not pain_when_playing:
        raise Inconsistent("pain_when_playing", "sites are named, but no pain when playing")
    if capacity_lost:
        return 5
    if other_uses == "all":
        return 4
    if persists_away or other_uses == "some":
        return 3
    return min(sites, 2)
