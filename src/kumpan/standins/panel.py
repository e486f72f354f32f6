"""A chlorinator's panel that is none: seeded, driven by a simulated pool. docs/panel.md says how it is asked.

Its state is a function of the pool it began with, of time, and of what it was told: settings, and (no real
panel has that) what was poured. All of that stands in a journal, so that a restart goes on the same.
"""

import json
import math
import threading
from datetime import UTC, datetime, timedelta
from pathlib import Path
from time import sleep
from typing import Any

from kumpan.core.simulation import priors
from kumpan.core.simulation.climate import hour_of, place_at
from kumpan.core.simulation.keep import as_data, from_data
from kumpan.core.simulation.pool import Setup, SimPool
from kumpan.core.simulation.priors import Nature
from kumpan.core.water.state import WaterState
from kumpan.standins.service import Handler, serve_until_closed

SOURCE = "Kumpan's panel stand-in"
ADDRESS, BEGUN, JOURNAL = "panel.url", "panel.begun.json", "panel.journal"  # in the data folder
FAULTS = ("", "low_salt", "no_flow", "scaled", "cold", "silent", "nonsense", "late", "unknown")
_SEED = 18  # of what its salt reading is off by
_BIAS_PPM = 120.0
_COLD_PER_C = 0.012  # reads low in cold water, by so much a degree under 25 C (our own)
_SCALE_READS = 0.35  # and on scaled plates, by so much where they halve its output (our own)
_SALT_OFF_PPM = 2700.0


def _usual_pool(now: datetime) -> dict[str, Any]:
    """The pool it is driven by where the launcher gave it none."""
    water = WaterState(3.0, 0.1, 7.6, 85, 280, 45, 3100, 26.0, sulfate_ppm=0.0)
    sim = SimPool(Setup(60_000, 45.0, 1.33, cell_g_day=600.0), Nature(), water)
    sim.settings.cell_percent = 50.0
    where = {"latitude": 34.0, "longitude": -117.4, "offset_h": -8}
    return {"at": now.isoformat(), "place": where} | as_data(sim, water)


class Panel:
    """The panel and the pool behind it. ``folder`` holds how it began and its journal."""

    def __init__(self, folder: Path, now: datetime) -> None:
        self.folder, self.lock = folder, threading.Lock()
        file = folder / BEGUN
        if not file.exists():
            file.write_text(json.dumps(_usual_pool(now)))
        begun = json.loads(file.read_text())
        self.sim = from_data(begun)
        where = begun["place"]
        self.place = place_at(where["latitude"], where["longitude"])
        self.offset = timedelta(hours=where["offset_h"])
        self.lived = datetime.fromisoformat(begun["at"]).replace(minute=0, second=0, microsecond=0)
        self.fault, self.told = "", set[str]()
        self.off_ppm = _BIAS_PPM * math.sin(_SEED)
        journal = folder / JOURNAL
        for line in journal.read_text().splitlines() if journal.exists() else ():
            try:
                self._act(json.loads(line))
            except (ValueError, KeyError):
                continue  # cut short when it was killed
        self.live(now)

    def live(self, now: datetime) -> None:
        """Bring the pool to the hour of an instant."""
        while self.lived + timedelta(hours=1) <= now:
            local = (self.lived + self.offset).replace(tzinfo=None)
            self.sim.step(hour_of(self.place, self.lived), local)
            self.lived += timedelta(hours=1)

    def take(self, what: dict[str, Any], now: datetime) -> None:
        """Something told: a setting, a fault, what was poured. Written down first; told again it is known."""
        with self.lock:
            if what.get("id") in self.told:
                return
            with (self.folder / JOURNAL).open("a") as journal:
                journal.write(json.dumps(what | {"at": now.isoformat()}) + "\n")
            self._act(what | {"at": now.isoformat()})

    def _act(self, what: dict[str, Any]) -> None:
        self.live(datetime.fromisoformat(what["at"]))
        if "id" in what:
            self.told.add(what["id"])
        settings = self.sim.settings
        if what["what"] == "setting":
            settings.cell_percent = float(what["percent"])
            start = settings.pump_hours[0]
            settings.pump_hours = (start, min(24, start + round(float(what["hours_day"]))))
        elif what["what"] == "fault":
            self.fault = what["fault"]
        elif what["what"] == "poured":
            self.sim.pour(what["product"], float(what["amount"]), what.get("strength"))

    def state(self, now: datetime) -> dict[str, Any]:
        """What it tells at an instant."""
        with self.lock:
            self.live(now)
            sim, fault = self.sim, self.fault
            on = sim.pump_on((now + self.offset).replace(tzinfo=None)) and fault != "no_flow"
            temp = 11.0 if fault == "cold" else sim.body.temp_c
            scale = sim.scale_mm + (3.0 if fault == "scaled" else 0.0)
            salt = self._salt(temp, scale, fault)
            lights = self._lights(on, temp, scale, salt)
            stopped = {"low_salt", "no_flow", "cold"} & set(lights)
            start, end = sim.settings.pump_hours
            return {
                "source": SOURCE,
                "simulated": True,
                "at": (now - timedelta(hours=3 if fault == "late" else 0)).isoformat(),
                "salt_ppm": -7 if fault == "nonsense" else round(salt, -1),
                "temp_c": round(temp, 1),
                "percent": sim.settings.cell_percent,
                "hours_day": (end - start) % 24 or 24,
                "makes_now": bool(on and not stopped),
                "cell_hours": round(sim.cell_hours),
                "lights": ["e47"] if fault == "unknown" else lights,
            }

    def _salt(self, temp_c: float, scale_mm: float, fault: str) -> float:
        """Its guess of the salt: from the current, so low in cold water and on scaled plates."""
        true = self.sim.water.salt_ppm or 0.0
        cold = 1 - _COLD_PER_C * max(0.0, 25.0 - temp_c)
        scaled = 1 - _SCALE_READS * min(2.0, scale_mm / priors.SCALE_HALVES_MM)
        lost = 0.65 if fault == "low_salt" else 1.0
        return float(true * lost * cold * scaled + self.off_ppm)

    def _lights(self, on: bool, temp_c: float, scale_mm: float, salt_ppm: float) -> list[str]:
        if self.fault == "no_flow":
            return ["no_flow"]
        if not on:
            return []
        lights = ["cold"] if temp_c < self.sim.setup.cell_cutout_c else []
        lights += ["low_salt"] if salt_ppm < _SALT_OFF_PPM else []
        return lights + (["check_cell"] if scale_mm > priors.SCALE_HALVES_MM else [])


_STILL_S = 8.0  # longer than anybody waits for an answer


class _Handler(Handler):
    """``GET /state``, ``PUT /setting``; of the stand-in alone ``PUT /fault`` and ``PUT /poured``."""

    panel: Panel

    def do_GET(self) -> None:
        """Tell the state."""
        if self.path != "/state":
            return self.answer(404, {"error": "Ask for /state."})
        return self._told()

    def do_PUT(self) -> None:
        """Take a setting, a fault, or what was poured."""
        try:
            size = min(20_000, int(self.headers.get("Content-Length") or 0))
            body = json.loads(self.rfile.read(size))
            self._take(body)
        except (ValueError, KeyError, TypeError) as error:
            return self.answer(400, {"error": str(error)})
        return self._told()

    def _take(self, body: dict[str, Any]) -> None:
        now = datetime.now(UTC)
        if self.path == "/setting":
            percent, hours = float(body["percent"]), float(body["hours_day"])
            if not (0 <= percent <= 100 and 0 <= hours <= 24):
                raise ValueError("percent 0 to 100, hours_day 0 to 24")
            self.panel.take({"what": "setting", "percent": percent, "hours_day": hours}, now)
        elif self.path == "/fault":
            if body["fault"] not in FAULTS:
                raise ValueError(f"one of {', '.join(FAULTS)}")
            self.panel.take({"what": "fault", "fault": body["fault"]}, now)
        elif self.path == "/poured":
            for one in body["doses"]:
                self.panel.take({"what": "poured"} | one, now)
        else:
            raise ValueError("there is no such address")

    def _told(self) -> None:
        if self.panel.fault == "silent" and self.command == "GET":
            sleep(_STILL_S)
        self.answer(200, self.panel.state(datetime.now(UTC)))


def serve(folder: Path) -> int:
    """Answer on a free port of loopback until the input ends; the address stands in the folder meanwhile."""
    handler = type("PanelHandler", (_Handler,), {"panel": Panel(folder, datetime.now(UTC))})
    return serve_until_closed(handler, folder / ADDRESS)
