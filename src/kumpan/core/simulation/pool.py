"""A simulated pool: what it is, and an hour of its life."""

from dataclasses import dataclass, field
from datetime import datetime

from kumpan.core.chemistry import constants as k
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.simulation import priors as p
from kumpan.core.simulation import processes
from kumpan.core.simulation.body import Body
from kumpan.core.simulation.climate import Hour
from kumpan.core.water.evaporation import evaporation_kg_m2_s, latent_heat_j_kg
from kumpan.core.water.state import WaterState

_WATER_J_KG_K = 4186.0
_OVERFLOW_M = 0.05  # over its usual level a pool runs over (our own)
_LEAST_C = 0.5  # ice is not simulated


@dataclass(frozen=True)
class Setup:
    """What a pool is and has, all that can be known. Litres, m, W/m2; hours of the local day.

    sun: the share of open sky's light it gets. pump_hours: when it runs. filter_m2: its medium's area.
    cell_g_day: a cell's rated output, None without one; cell_cutout_c, cell_salt_ppm: under which it stops.
    fill: its fill water. levelled: topped up by itself. heated_c: held at least at.
    """

    volume_l: float
    surface_m2: float
    depth_m: float
    sun: float = 1.0
    pump_hours: tuple[int, int] = (9, 17)
    flow_l_h: float = 9000.0
    filter_kind: str = "sand"
    filter_m2: float = 0.2
    clean_kpa: float = 69.0
    cell_g_day: float | None = None
    cell_cutout_c: float = 15.5
    cell_salt_ppm: float = 2700.0
    self_cleaning: bool = True
    fill: WaterState = field(default_factory=lambda: WaterState(0, 0, 7.8, 120, 140, 0, 60, 15.0))
    levelled: bool = True
    heated_c: float | None = None
    indoor: bool = False


@dataclass
class Settings:
    """What people set: the cell's percent, tablets in the feeder (g), its dial (share of its range), the
    pump's hours, the cover; whether it is closed for winter.
    """

    cell_percent: float = 0.0
    tablets_g: float = 0.0
    dial: float = 0.5
    pump_hours: tuple[int, int] = (9, 17)
    covered: bool = False
    closed: bool = False


class SimPool:
    """A pool and its truth. ``step`` lives one hour; acts happen between hours."""

    def __init__(self, setup: Setup, nature: p.Nature, water: WaterState, every_hour: bool = False) -> None:
        self.setup, self.nature = setup, nature
        self.body = Body(water, setup.volume_l * nature.volume, every_hour)
        self.full_l = self.body.volume_l
        self.settings = Settings(pump_hours=setup.pump_hours)
        self.algae = [1e-3 if has else 0.0 for has in nature.has]  # mg/L dry
        self.dead_mg_l = self.settled_g = self.load_g = self.scale_mm = 0.0
        self.organics_ppm, self.brushed_h, self.cell_hours = 0.0, 0.0, 0.0
        self.ammonia_ppm = self.mono_ppm = 0.0  # as nitrogen; what of combined chlorine came of it

    # --- What one can see and read.

    @property
    def pressure_kpa(self) -> float:
        """At the filter's gauge, pump on: double at so much load, and never over three times, where the pump
        moves no more (our own).
        """
        return self.setup.clean_kpa * (1 + 2 * self._load / (1 + self._load))

    @property
    def level_m(self) -> float:
        """Over or under its usual level."""
        return (self.body.volume_l - self.full_l) / 1000 / self.setup.surface_m2

    @property
    def sight_m(self) -> float:
        """How far one sees into the water."""
        return processes.sight_m(sum(self.algae) + self.dead_mg_l)

    @property
    def water(self) -> WaterState:
        """Its water, as it truly is."""
        return self.body.water()

    @property
    def _load(self) -> float:
        return self.load_g / (p.LOAD_DOUBLES_G_M2[self.setup.filter_kind] * self.setup.filter_m2)

    def pump_on(self, at: datetime) -> bool:
        """Whether the pump runs in a local hour."""
        start, end = self.settings.pump_hours
        inside = start <= at.hour < end if start <= end else at.hour >= start or at.hour < end
        return inside and not self.settings.closed

    # --- What people do.

    def pour(self, product_id: str, amount: float, strength: float | None = None) -> None:
        """A product goes in, g or mL; tablets wait in the feeder."""
        product = PRODUCTS[product_id]
        if product.active is None:
            return
        if product.form == "tablet":
            self.settings.tablets_g += amount
        else:
            self.body.add(product.change_per_unit(1.0, strength) * amount)
            self._bind()

    def bathe(self, people: float) -> None:
        """So many visits: what bathers bring and carry out."""
        ppm = people * p.BATHER_CL2_G * self.nature.bathers * 1000 / self.body.volume_l
        self.organics_ppm += ppm
        self.body.lose(people * p.SPLASH_L)

    def brush(self) -> None:
        """Walls brushed: what sits on them is open to chlorine for a day."""
        self.brushed_h = 24.0

    def vacuum(self, to_waste_l: float = 0.0) -> None:
        """What settled is taken out, through the filter or, with so much water, to waste."""
        if to_waste_l:
            self.body.lose(to_waste_l)
        else:
            self.load_g += self.settled_g
        self.settled_g = 0.0

    def clean_filter(self, lost_l: float = 0.0) -> None:
        """Backwashed with so much water, or hosed off."""
        self.body.lose(lost_l)
        self.load_g *= 0.05

    def clean_cell(self) -> None:
        """Its plates are clean again."""
        self.scale_mm = 0.0

    def drain(self, litres: float) -> None:
        """Water let out."""
        self.body.lose(litres)

    def fill_up(self) -> float:
        """Filled to its usual level from the hose; litres added."""
        short = max(0.0, self.full_l - self.body.volume_l)
        self.body.take_in(short, self.setup.fill)
        return short

    # --- An hour.

    def step(self, hour: Hour, at: datetime) -> None:
        """One hour from a local instant, in this weather."""
        on = self.pump_on(at)
        self._weather(hour)
        self._machines(on)
        self._algae(self._chlorine(hour))
        self._filter(on)
        share = self.nature.exchange * processes.exchange_per_h(self._wind(hour), self.setup.depth_m)
        if self.settings.covered:
            share *= 1 - p.COVER_KEEPS
        self.body.exchange_gas(share + (p.CELL_STRIPS_H if self._cell_makes(on) > 0 else 0.0))
        self.brushed_h = max(0.0, self.brushed_h - 1)

    def _wind(self, hour: Hour) -> float:
        return 0.1 if self.setup.indoor else p.SHELTER * hour.wind_m_s

    def _sun(self, hour: Hour) -> float:
        passes = p.COVER_PASSES_SUN if self.settings.covered else 1.0
        return 0.0 if self.setup.indoor or self.settings.closed else hour.sun_w_m2 * self.setup.sun * passes

    def _weather(self, hour: Hour) -> None:
        """Heat, evaporation, rain, and the level kept."""
        body, setup, wind = self.body, self.setup, self._wind(hour)
        air = max(hour.air_c, 20.0) if setup.indoor else hour.air_c
        covered = 1 - p.COVER_KEEPS if self.settings.covered or self.settings.closed else 1.0
        gone = covered * evaporation_kg_m2_s(body.temp_c, air, hour.humidity, wind)
        heat = p.ABSORBED * self._sun(hour) - gone * latent_heat_j_kg(body.temp_c)
        heat -= covered * processes.surface_heat_w_m2(body.temp_c, air, hour.humidity, wind)
        warmer = body.temp_c + 3600 * heat / (_WATER_J_KG_K * 1000 * setup.depth_m)
        body.temp_c = max(warmer, _LEAST_C, setup.heated_c or _LEAST_C)
        body.evaporate(gone * 3600 * setup.surface_m2)
        if not (setup.indoor or self.settings.closed):
            body.take_in(hour.rain_mm * setup.surface_m2, None)
        over = self.level_m - _OVERFLOW_M
        if over > 0:
            body.lose(over * 1000 * setup.surface_m2)
        if setup.levelled and self.level_m < -0.01 and not self.settings.closed:
            self.fill_up()

    def _cell_makes(self, on: bool) -> float:
        """Grams of chlorine this hour."""
        setup, body = self.setup, self.body
        if setup.cell_g_day is None or not on or self.settings.cell_percent == 0:
            return 0.0
        salt = body.mol["salt"] / body.volume_l * 1000 * k.NACL
        warm: float = min(1.0, max(0.0, (body.temp_c - setup.cell_cutout_c) / 3))
        salted: float = min(1.0, max(0.0, (salt - 0.75 * setup.cell_salt_ppm) / (0.25 * setup.cell_salt_ppm)))
        clean = 1 / (1 + self.scale_mm / p.SCALE_HALVES_MM)
        return setup.cell_g_day / 24 * self.settings.cell_percent / 100 * warm * salted * clean

    def _machines(self, on: bool) -> None:
        """Cell and feeder feed."""
        made = self._cell_makes(on)
        if made:
            self.body.make_chlorine(made)
            self.cell_hours += 1
            grown = p.SCALE_MM_DAY / 24 * max(0.0, self.body.saturation_index + p.PLATES_OVER - p.SCALE_FROM)
            grown *= p.SELF_CLEANING if self.setup.self_cleaning else 1.0
            self.scale_mm += grown
            # On a tenth of a square metre of plates; calcite is 2.71 kg/L.
            self.body.scale(grown * 2710 / k.CACO3 * 0.1)
        if on and self.settings.tablets_g > 0:
            whole = self.settings.tablets_g / 226.8
            fed = min(self.settings.tablets_g, p.TABLET_G_H * whole**0.8 * self.settings.dial * 2)
            self.settings.tablets_g -= fed
            self.body.add(PRODUCTS["trichlor-90"].change_per_unit(1.0) * fed, at_once=False)

    def _bind(self) -> None:
        """Ammonia takes chlorine at once: monochloramine, mole for mole, 5.06 g Cl2 per g of nitrogen."""
        taken = self.body.spend(p.BINDS_CL2_PER_N * self.ammonia_ppm)
        self.ammonia_ppm = max(0.0, self.ammonia_ppm - taken / p.BINDS_CL2_PER_N)
        self.body.cc_ppm += taken
        self.mono_ppm += taken

    def _breakpoint(self, plenty: float) -> None:
        """Chloramine of ammonia broken by the chlorine that is left."""
        self._bind()
        broken = min(self.mono_ppm, self.body.cc_ppm) * p.MONO_BROKEN_H * plenty
        used = self.body.spend(p.CC_TAKES_FC * broken)
        self.body.cc_ppm -= used / p.CC_TAKES_FC
        self.mono_ppm = min(self.body.cc_ppm, self.mono_ppm - used / p.CC_TAKES_FC)

    def _chlorine(self, hour: Hour) -> float:
        """What sun, demand, organics and combined chlorine use; ppm of hypochlorous acid left to kill."""
        body, forms = self.body, self.body.forms()
        fc, nature = forms.fc_ppm, self.nature
        self.organics_ppm += p.DUST_PPM_DAY / 24 * (0.2 if self.settings.closed else 1.0)
        plenty = fc / (fc + p.HALF_FC_PPM)
        faded = (
            fc * nature.sun * processes.photolysis_per_h(self._sun(hour), forms.hocl, forms.ocl, forms.bound)
        )
        dark = nature.demand * processes.dark_demand_ppm_h(body.temp_c) * plenty
        oxidised = self.organics_ppm * p.ORGANICS_PER_H * plenty
        pace = p.CC_DECAY_H + p.CC_SUN_H * self._sun(hour) / 1000
        if fc > p.BREAKPOINT_FC_CC * body.cc_ppm:
            pace += p.CC_BREAKPOINT_H * min(1.0, forms.hocl_ppm / p.BREAKPOINT_HOCL_PPM)
        broken = body.cc_ppm * min(1.0, pace)
        wanted = min(faded, 0.6 * fc) + dark + oxidised + p.CC_TAKES_FC * broken
        used = body.spend(wanted)
        done = used / wanted if wanted else 0.0
        self.organics_ppm -= done * oxidised
        body.cc_ppm = max(0.0, body.cc_ppm - broken + p.CC_SHARE * done * oxidised)
        if self.ammonia_ppm + self.mono_ppm > 0:
            self._breakpoint(plenty)
        return forms.hocl_ppm

    def _algae(self, hocl_ppm: float) -> None:
        """Growth and kill of each kind, what that takes, and what dead ones become."""
        body, light = self.body, 0.3 if self.settings.closed else 1.0
        takes = p.DEAD_TAKES_DAY / 24 * self.dead_mg_l
        for i, (kind, holds) in enumerate(zip(p.KINDS, self.nature.holds_hocl_ppm, strict=True)):
            if not self.nature.has[i]:
                continue
            there = self.algae[i]
            net = processes.growth_per_day(kind, hocl_ppm, holds, body.temp_c, self.brushed_h > 0) / 24
            net = net * self.nature.kill if net < 0 else net
            moved = there * (net * light * (1 - there / p.MOST_MG_L) if net > 0 else max(-0.5, net))
            self.algae[i] = max(1e-4, there + moved) + p.SEED_MG_L_DAY / 24
            self.dead_mg_l += max(0.0, -moved)
            takes += p.LIVE_TAKES_DAY / 24 * there + p.KILL_TAKES * max(0.0, -moved)
        body.spend(takes)

    def _filter(self, on: bool) -> None:
        """Dead algae settle, the pump's water leaves them and dust in the filter."""
        sinks = self.dead_mg_l * p.SETTLES_DAY / 24
        self.settled_g += sinks * self.body.volume_l / 1000
        self.dead_mg_l -= sinks
        if not on:
            return
        passes = self.setup.flow_l_h / (1 + 0.5 * self._load) / self.body.volume_l
        caught = passes * p.FILTER_CATCHES[self.setup.filter_kind]
        floats = self.dead_mg_l + 0.3 * self.algae[0]
        self.load_g += caught * floats * self.body.volume_l / 1000
        self.load_g += p.DUST_G_M2_DAY * self.setup.surface_m2 / 8
        self.dead_mg_l *= 1 - caught
        self.algae[0] *= 1 - 0.3 * caught
