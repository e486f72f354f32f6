"""Clear-up runs lived by a simulated pool and a person who does what the run says."""

from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, timedelta
from random import Random
from zoneinfo import ZoneInfo

from kumpan.core.clearup import tables as t
from kumpan.core.clearup.course import LOOKS
from kumpan.core.clearup.dose import ppm_per_unit
from kumpan.core.clearup.ending import over_at
from kumpan.core.clearup.follow import Followed, follow
from kumpan.core.clearup.run import Run, Site, Told, Value, level_of
from kumpan.core.clearup.standing import warnings
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.simulation.climate import Place, hour_of
from kumpan.core.simulation.observer import Kit, read
from kumpan.core.simulation.pool import Setup, SimPool
from kumpan.core.simulation.priors import Nature, draw_nature
from kumpan.core.water.state import WaterState
from kumpan.core.work.sheet import Decide, Look, Mark, Pour, Step, Test

ZONE = ZoneInfo("America/Chicago")
PLACE = Place(41.5, -93.6, "continental", seed=7)
START = datetime(2026, 7, 10, 18, tzinfo=ZONE)
BLOOM = {"tint": 4.0, "steps": 14.0, "hidden": 32.0}
DEPTH_M = 1.5
LOOK_WORDS = dict(LOOKS)
# What no run may bring the true water to: its level, a tenth of error each way, and a raise on it.
MOST_PPM = 48.0
_SUN = {"full": 1.0, "part": 0.75, "shade": 0.4}
_FILTER_M2 = {"sand": 0.25, "cartridge": 10.0, "de": 4.0}


@dataclass
class Lived:
    """What a run came to. days: from its first pour to the end of the kill; None where it did not end."""

    run: Run
    days: float | None
    poured_ppm: float
    last: Followed
    told: list[Told]
    marks: list[Mark]
    unsafe: list[str] = field(default_factory=list)
    true_algae: float = 0.0
    ended: bool = False
    trace: list[str] = field(default_factory=list)


def begun(
    severity: str,
    *,
    school: str = "hold",
    method: str = "drops",
    looks: int = 4,
    cya: float = 40.0,
    product: str = "liquid-chlorine-12.5",
    traits: PoolTraits | None = None,
    filter_kind: str = "sand",
    kind: str = "green",
) -> tuple[Run, Site]:
    """A run as somebody would begin it."""
    traits = traits or PoolTraits(60_000, "vinyl", "liquid", "in_ground")
    site = Site(traits, filter_kind=filter_kind)
    water = WaterState(0.0, 0.6, 7.8, 90, 250, cya, 800, 27.0, sulfate_ppm=0.0)
    run = Run(
        "run", START, "algae", school, kind, severity=severity, looks=looks, method=method,  # type: ignore[arg-type]
        product_id=product, place=(PLACE.latitude, PLACE.longitude), water=water,
    )  # fmt: skip
    return replace(run, level_ppm=level_of(run, site, cya, 0.6, 27.0)), site


def by_method(measure: str, method: str) -> str:
    """What a measure is read by: chlorine and pH by the kit, the rest at a shop."""
    return "thermometer" if measure == "temp" else method if measure in ("fc", "cc", "tc", "ph") else "lab"


class Bloom:
    """A simulated green pool that lives on until it is looked at; and what a person does and sees at it."""

    def __init__(
        self, setup: Setup, nature: Nature, water: WaterState, algae_mg_l: float, at: datetime, of: int = 0
    ) -> None:
        self.pool, self.at, self.of = SimPool(setup, nature, water), at, of
        self.pool.algae[of] = algae_mg_l
        self.copper_ppm = 0.0

    def live_until(self, at: datetime) -> None:
        """Whole hours that have gone by."""
        while at - self.at >= timedelta(hours=1):
            self.pool.step(hour_of(PLACE, self.at.astimezone(UTC)), self.at)
            self.at += timedelta(hours=1)

    def read(
        self, method: str, measures: tuple[str, ...], rng: Random, thinned: bool = False
    ) -> dict[str, float]:
        """What a kit reads; total is never under free. thinned: free chlorine of a third, times three."""
        water = self.pool.water
        values = {}
        for m in measures:
            if m in ("phosphate", "ammonia"):
                values[m] = 60.0 if m == "phosphate" else round(self.pool.ammonia_ppm, 1)
                continue
            weak = replace(water, fc_ppm=(water.fc_ppm or 0.0) / 3, cc_ppm=0.0)
            own = by_method(m, method)
            value = read(Kit(own), weak if thinned and m == "fc" else water, m, rng)
            if value is not None:
                values[m] = 3 * value if thinned and m == "fc" else value
        if values.get("tc", 99.0) < values.get("fc", 0.0):
            values["tc"] = values["fc"]
        return values

    def seen(self) -> str:
        """How the water looks."""
        pool, alive = self.pool, max(self.pool.algae[:2])  # black sits in its heads, asked of apart
        if pool.sight_m < DEPTH_M:
            return "hidden" if alive > 1.0 else "grey"
        if alive > 0.8:
            return "green"
        if pool.sight_m < 3 * DEPTH_M:
            return "grey"
        if self.copper_ppm > 0.1:
            return "green"  # clear and green: so it looks to one who expects algae
        return "off" if alive > 0.15 else "clear"

    def do(self, key: str) -> None:
        """A step of the run done."""
        if key == "timer":
            self.pool.settings.pump_hours = (0, 24)
        elif key == "timer_back":
            self.pool.settings.pump_hours = (9, 17)
        elif key.startswith(("brush", "look", "spots", "stir")):
            self.pool.brush()
        elif key.startswith("filter"):
            self.pool.clean_filter(500)
            self.pool.fill_up()
        elif key.startswith(("vacuum", "settle")):
            self.pool.vacuum()


WAYS = (
    ("hold", "drops", 4), ("hold", "drops", 2), ("hold", "drops_25", 2), ("hold", "drops", 1),
    ("bags", "drops", 2), ("bags", "photometer", 2), ("bags", "strip", 2), ("bags", "strip", 1),
)  # fmt: skip


def drawn(number: int, seed: str) -> tuple[Run, Site, Nature, Random]:
    """A green pool, its run and its nature: severity and way by its number, the rest at random. Demand and
    kill are drawn 50 % round what the simulated pool has as usual.
    """
    rng = Random(f"{seed} {number}")
    severity = ("tint", "steps", "hidden")[number % 3]
    school, method, looks = WAYS[(number // 3) % len(WAYS)]
    source = rng.choice(("liquid", "liquid", "granules", "chlorinator"))
    traits = PoolTraits(
        60_000,
        rng.choice(("vinyl", "plaster")),
        source,
        "in_ground",
        sun=rng.choice(("full", "part", "shade")),
    )
    run, site = begun(
        severity, school=school, method=method, looks=looks, cya=rng.uniform(15, 70), traits=traits,
        filter_kind=rng.choice(("sand", "sand", "cartridge", "de")),
    )  # fmt: skip
    nature = draw_nature(rng)
    return run, site, replace(nature, demand=rng.uniform(0.5, 1.5), kill=rng.uniform(0.5, 1.5)), rng


def live(run: Run, site: Site, nature: Nature, rng: Random, most_days: int = 20, **more: float) -> Lived:
    """Live a run hour by hour. more: ammonia_ppm (as nitrogen) or copper_ppm in the water. The person acts when steps are due, as often as they said that they look."""
    setup = Setup(
        site.traits.volume_l, 45.0, DEPTH_M, filter_kind=site.filter_kind, sun=_SUN[site.traits.sun],
        flow_l_h=9000.0, filter_m2=_FILTER_M2[site.filter_kind],
    )  # fmt: skip
    algae = BLOOM[run.severity or "tint"] * (0.8 + 0.4 * rng.random())
    of = list(t.KINDS).index(run.kind.id)
    has = tuple(n in (0, of) for n in range(3))
    bloom = Bloom(
        setup, replace(nature, has=has), run.water, 1e-3 if run.aim != "algae" else algae, run.at, of
    )
    bloom.pool.ammonia_ppm = more.get("ammonia_ppm", 0.0)
    bloom.copper_ppm = more.get("copper_ppm", 0.0)
    if bloom.copper_ppm:
        bloom.pool.algae[of] = 1e-3  # there never were any
    out = Lived(run, None, 0.0, follow(run, site, ((), ()), run.at), [], [])
    for h in range(24 * most_days):
        at = run.at + timedelta(hours=h)
        bloom.live_until(at)
        if not _may_be_there(run, at):
            continue
        _acts(run, site, bloom, rng, at, out)
        if out.last.progress.state in ("done", "given_up"):
            out.ended = out.last.progress.state == "done"
            break
    killed = over_at(out.last.course)
    if killed is not None:
        out.days = (killed - out.last.course.pours[0].at).total_seconds() / 86400
        out.poured_ppm = sum(p.fc_ppm for p in out.last.course.pours if p.at <= killed)
    out.true_algae = sum(bloom.pool.algae)
    return out


def _acts(run: Run, site: Site, bloom: Bloom, rng: Random, at: datetime, out: Lived) -> None:
    """Do what is due and can be done now, one step after the other."""
    for _ in range(12):
        now = out.last = follow(run, site, (out.told, out.marks), at)
        _heeds(now, bloom, at, out)
        here = run.local(at)
        ready = [b for b in now.progress.at_hand if _looks_now(run, b.step.key, here, now)]
        if not ready:
            return
        step = ready[0].step
        id = f"e{len(out.told) + len(out.marks)}"
        at += timedelta(seconds=20)
        if isinstance(step.act, Pour):
            _pour(site, bloom, out, step, (id, at))
        elif isinstance(step.act, Test):
            method = "lab" if step.key == "shop" else run.method
            values = bloom.read(method, step.act.measures, rng, "thinned" in step.words.title)
            own = {m: Value(v, by_method(m, method)) for m, v in values.items()}
            out.told.append(Told(id, at, "water_test", own))
            out.trace.append(f"{here:%d %H} {step.key} {values}")
        else:
            looked = isinstance(step.act, Look) and step.key.startswith("look")
            value = bloom.seen() if looked else "cleaned" if isinstance(step.act, Look) else "done"
            if isinstance(step.act, Decide):
                value = step.act.choices[0][0]
            if step.key.startswith("spots"):
                value = "heads" if bloom.pool.algae[2] > 0.1 else "none"
            bloom.do(step.key)
            out.marks.append(Mark(id, at, step.key, "answer", value))
            out.trace.append(f"{here:%d %H} {step.key} {value}")


def _heeds(now: Followed, bloom: Bloom, at: datetime, out: Lived) -> None:
    """What the run warns of and this person does: a copper test, and giving up what is no algae."""
    told = {w.id for w in warnings(now, None)}
    id = f"h{len(out.told) + len(out.marks)}"
    if "not_algae" in told and not any("copper" in e.readings for e in out.told):
        out.told.append(Told(id, at, "water_test", {"copper": Value(bloom.copper_ppm, "photometer")}))
    elif "copper" in told and not any(m.verb == "give_up" for m in out.marks):
        out.marks.append(Mark(id, at, "", "give_up", ""))


def _may_be_there(run: Run, at: datetime) -> bool:
    """Whether any look of this person's could fall in this hour: spares working the run out for nothing."""
    here = run.local(at)
    if run.aim == "incident":
        return True
    if here - run.at < timedelta(hours=6) or run.looks >= 4:
        return here.hour >= 4
    dusk = run.dusk(here.date())
    return 4 <= here.hour <= 9 or dusk - timedelta(hours=2) <= here <= dusk + timedelta(hours=4)


def _looks_now(run: Run, key: str, here: datetime, now: Followed) -> bool:
    """Whether somebody is there: every few hours, morning and evening, or once at dusk; early where the run
    asks for a reading before sunrise.
    """
    day = here.date()
    dawn, dusk = run.dawn(day), run.dusk(day)
    step = next(s for s in now.live.steps if s.key == key)
    if key.startswith("check") and "sunrise" in step.words.title:
        return here <= dawn + timedelta(minutes=30)
    if "in the morning" in step.words.title:
        return 6 <= here.hour <= 9
    if run.aim == "incident":
        return True  # somebody stays by it
    evening = dusk - timedelta(minutes=80) <= here <= dusk + timedelta(hours=4)
    if here - run.at < timedelta(hours=6):
        return True
    if run.looks >= 4:
        return 6 <= here.hour <= 23
    if run.looks == 2:
        return evening or 6 <= here.hour <= 8
    return evening


def _pour(site: Site, bloom: Bloom, out: Lived, step: Step, when: tuple[str, datetime]) -> None:
    """Pour, and say what no run may ever ask for."""
    act, (id, at), run = step.act, when, out.run
    assert isinstance(act, Pour)
    fc = bloom.pool.water.fc_ppm or 0.0
    per = ppm_per_unit(run, site.traits.volume_l) if act.product_id == run.product_id else 0.0
    chlorine = per * act.amount
    recent = [e for e in out.told if e.kind == "dose" and at - e.at < timedelta(minutes=29)]
    if any((e.fc_ppm > 0) != (chlorine > 0) for e in recent):
        out.unsafe.append(f"{step.key}: acid and chlorine together at {at}")
    if fc + chlorine > MOST_PPM:
        out.unsafe.append(f"{step.key}: to {fc + chlorine:.0f} ppm")
    bloom.pool.pour(act.product_id, act.amount, act.strength)
    out.told.append(Told(id, at, "dose", {}, act.product_id, act.amount, chlorine))
    alive = f"algae {bloom.pool.algae[0]:.2f} dead {bloom.pool.dead_mg_l:.1f}"
    out.trace.append(f"{run.local(at):%d %H} {step.key} +{chlorine:.1f} (true {fc:.1f}, {alive})")


class Story:
    """A run written down by hand: what happened, hours after it began (18:00)."""

    def __init__(self, **how: object) -> None:
        self.run, self.site = begun("steps", **how)  # type: ignore[arg-type]
        self.told: list[Told] = []
        self.marks: list[Mark] = []

    def at(self, hours: float) -> datetime:
        return START + timedelta(hours=hours)

    def said(self, hours: float, key: str, value: str = "done", verb: str = "answer") -> "Story":
        self.marks.append(Mark(f"m{len(self.marks)}", self.at(hours), key, verb, value))
        return self

    def read(self, hours: float, method: str = "drops", **values: float) -> "Story":
        readings = {m: Value(v, method) for m, v in values.items()}
        self.told.append(Told(f"t{len(self.told)}", self.at(hours), "water_test", readings))
        return self

    def poured(self, hours: float, ppm: float) -> "Story":
        amount = ppm / ppm_per_unit(self.run, self.site.traits.volume_l)
        self.told.append(
            Told(f"t{len(self.told)}", self.at(hours), "dose", {}, self.run.product_id, amount, ppm)
        )
        return self

    def look(self, hours: float) -> Followed:
        return follow(self.run, self.site, (self.told, self.marks), self.at(hours))

    def ready(self, **first: float) -> "Story":
        for key in ("debris", "filter:0", "timer", "brush:0"):
            self.said(0.2, key)
        return self.read(0.1, **({"fc": 0.0, "cc": 0.5, "ph": 7.5} | first))


def next_key(run: Followed) -> str:
    assert run.progress.next is not None
    return run.progress.next.step.key
