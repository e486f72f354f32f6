"""What a person may see at the pool beside what a test reads."""

# What closes a pool whatever the water reads (practice section 7), and how it is said.
SEEN: dict[str, str] = {
    "floor_hidden": "the floor cannot be seen",
    "faecal": "a faecal accident: follow the health authority's table",
    "drain_cover": "a drain cover is missing, broken or expired",
    "cover_on": "a cover is part-on",
    "thunder": "thunder",
    "tingle": "an electrical tingle: everyone out, power off, call an electrician",
}
