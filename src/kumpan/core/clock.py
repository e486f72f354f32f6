"""Time zones by their names."""

from functools import cache
from zoneinfo import available_timezones

# In the database's folder, and no place's: what a machine is set to, what nobody set.
_NO_PLACE = frozenset({"Factory", "localtime", "posixrules"})


def is_time_zone(name: str) -> bool:
    """Whether a name is one of the IANA database's zones.

    >>> is_time_zone("America/Chicago"), is_time_zone("../etc/passwd"), is_time_zone("Factory")
    (True, False, False)
    """
    return name in _zones()


@cache  # a walk through its folder
def _zones() -> frozenset[str]:
    return frozenset(available_timezones()) - _NO_PLACE
