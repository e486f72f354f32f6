"""The water of a simulated pool: amounts that are conserved, and the pH they make, solved when it moved."""

from dataclasses import dataclass

from kumpan.core.chemistry import constants as k
from kumpan.core.chemistry.chlorine import cyanurate_at, hocl_of
from kumpan.core.chemistry.equilibria import at_temperature, conditional
from kumpan.core.chemistry.solution import Solution, Totals, alkalinity_at, equilibrate
from kumpan.core.water.state import Change, WaterState, totals_of

AMOUNTS = ("alk", "ct", "cya", "b", "cl2", "ca", "salt", "so4")
# Solved anew once what was added up could have moved pH by so much; slopes once it moved by more (our own:
# within 0.01 of solving every hour).
_MOVED_PH, _MOVED_C, _SLOPES_PH = 0.02, 1.0, 0.12


@dataclass
class Counted:
    """What reactions did since the beginning, mol: chlorine used up, chlorine a cell made, CO2 that left as
    gas, calcium carbonate that a cell's plates took.
    """

    spent: float = 0.0
    made: float = 0.0
    gas: float = 0.0
    scaled: float = 0.0


@dataclass(frozen=True)
class Forms:
    """Free chlorine (ppm as Cl2) and its forms as shares of it; HOCl in ppm too."""

    fc_ppm: float
    hocl_ppm: float
    hocl: float
    ocl: float
    bound: float


class Body:
    """Amounts in mol (alkalinity in eq) in so many litres at a temperature. salt_later: salt that what free
    chlorine there is will leave when spent; cc_ppm: combined chlorine; came: what acts and water brought or
    took, mol.

    every_hour: solve pH at every look, to check the quick way against.
    """

    def __init__(self, water: WaterState, volume_l: float, every_hour: bool = False) -> None:
        totals = totals_of(water)
        assert water.temp_c is not None
        self.volume_l, self.temp_c, self.every_hour = volume_l, water.temp_c, every_hour
        self.mol = {name: getattr(totals, name) * volume_l for name in AMOUNTS}
        self.cc_ppm, self.salt_later = water.cc_ppm or 0.0, 0.0
        self.came, self.counted = dict.fromkeys((*AMOUNTS, "salt_later"), 0.0), Counted()
        self._ph0 = water.ph or 7.5
        self._solved: Solution | None = None
        self._slopes: tuple[float, ...] = ()

    # --- What is in it.

    def ppm(self, name: str) -> float:
        """A total as its test reads it: ppm, alkalinity and calcium as CaCO3, chlorine as Cl2."""
        return float(self.mol[name] / self.volume_l * _PPM[name])

    @property
    def totals(self) -> Totals:
        """The totals, mol/L."""
        m, v = self.mol, self.volume_l
        alk, ct, cya, b, cl2, ca, salt, so4 = (m[name] / v for name in AMOUNTS)
        return Totals(alk, ct, cya, b, cl2, ca, salt, so4, self.temp_c)

    @property
    def ph(self) -> float:
        """pH, from the totals as last solved and how far they moved since."""
        return self._look()[0]

    def water(self) -> WaterState:
        """It as the core sees any water."""
        salt = (self.mol["salt"] / self.volume_l) * 1000 * k.NACL
        return WaterState(
            self.ppm("cl2"), self.cc_ppm, self.solve().ph, self.ppm("alk"), self.ppm("ca"), self.ppm("cya"),
            salt, self.temp_c, self.ppm("b"), self.ppm("so4"),
        )  # fmt: skip

    def forms(self) -> Forms:
        """What its free chlorine is."""
        ph, solved = self._look()
        cl2, h = self.mol["cl2"] / self.volume_l, 10.0**-ph
        if cl2 <= 0:
            return Forms(0.0, 0.0, 0.5, 0.5, 0.0)
        c = conditional(at_temperature(self._temp0), solved.ionic_strength, sulfate=False)
        hocl = hocl_of(cl2, self.mol["cya"] / self.volume_l, 1 + c.ocl / h, cyanurate_at(c, h))
        ocl = hocl * c.ocl / h
        ppm = 1000 * k.CL2
        return Forms(cl2 * ppm, hocl * ppm, hocl / cl2, ocl / cl2, max(0.0, 1 - (hocl + ocl) / cl2))

    def co2(self) -> float:
        """Dissolved CO2, mol/L."""
        ph, solved = self._look()
        # Along the line from the last solution CO2 goes as total carbonate and H+ do.
        return float(solved.co2 * (self.mol["ct"] / self.volume_l) / solved.ct * 10.0 ** (solved.ph - ph))

    def co2_of_air(self) -> float:
        """Dissolved CO2 in balance with the air, mol/L: Henry's law."""
        solved = self._look()[1]
        return float(k.AIR_CO2_UATM * 1e-6 * solved.co2 / solved.co2_atm)

    @property
    def saturation_index(self) -> float:
        """Of calcite: as last solved, moved by pH."""
        ph, solved = self._look()
        return float(solved.si_calcite + ph - solved.ph)

    # --- pH.

    def solve(self) -> Solution:
        """Solve pH from the totals as they are."""
        self._solved = equilibrate(self.totals, self._ph0)
        self._ph0, self._temp0, self._t0 = float(self._solved.ph), self.temp_c, self.totals
        return self._solved

    def _look(self) -> tuple[float, Solution]:
        """pH now, and the solution it leans on: solved anew where it could have moved too far."""
        if self._solved is None or self.every_hour:
            solved = self.solve()
            return float(solved.ph), solved
        if not self._slopes or abs(self._ph0 - self._slopes_ph) > _SLOPES_PH:
            self._derive()
        t, t0 = self.totals, self._t0
        ct, cl2, cya, warm, buffer = self._slopes
        over = (t.alk - t0.alk) - ct * (t.ct - t0.ct) - cl2 * (t.cl2 - t0.cl2) - cya * (t.cya - t0.cya)
        moved = (over - warm * (self.temp_c - self._temp0)) / buffer
        if abs(moved) >= _MOVED_PH or abs(self.temp_c - self._temp0) >= _MOVED_C:
            solved = self.solve()
            return float(solved.ph), solved
        return self._ph0 + float(moved), self._solved

    def _derive(self) -> None:
        """How the alkalinity that this pH needs moves with the other totals and with pH, by small steps."""
        t, ph = self._t0, self._ph0
        base = alkalinity_at(t, ph)

        def per(step: float, **changed: float) -> float:
            return float((alkalinity_at(t._replace(**changed), ph) - base) / step)

        self._slopes = (
            per(1e-5, ct=t.ct + 1e-5),
            per(1e-5, cl2=t.cl2 + 1e-5),
            per(1e-5, cya=t.cya + 1e-5),
            per(0.5, temp_c=t.temp_c + 0.5),
            float((alkalinity_at(t, ph + 0.01) - base) / 0.01),
        )
        self._slopes_ph = ph

    def disturbed(self, guess_ph: float | None = None) -> None:
        """Something was done to it: the next look solves, from a guess where there is one."""
        self._solved, self._slopes = None, ()
        self._ph0 = self._ph0 if guess_ph is None else guess_ph

    # --- What happens to it.

    def add(self, change: Change, at_once: bool = True) -> None:
        """What a product brings in all, mol (``Product.change_per_unit(1.0)`` times its amount). at_once: as
        an act, after which pH is solved anew; what trickles in moves it along the line.
        """
        salt, later = change.salt_ppm / 1000 / k.NACL, change.salt_later_ppm / 1000 / k.NACL
        brought = (change.alk, change.carbon, change.cya, change.b, change.cl2, change.ca, salt, change.so4)
        for name, amount in zip(AMOUNTS, brought, strict=True):
            self._bring(name, amount)
        self.salt_later += later
        self.came["salt_later"] += later
        if at_once:
            self.disturbed()

    def take_in(self, litres: float, water: WaterState | None) -> None:
        """Water comes in, rain or fill; None: rain, which holds nothing but the air's CO2 (left out: 0.01
        mmol a litre).
        """
        if litres <= 0:
            return
        kept = self.volume_l / (self.volume_l + litres)
        self.cc_ppm *= kept
        if water is not None:
            totals = totals_of(water)
            for name in AMOUNTS:
                self._bring(name, getattr(totals, name) * litres)
        self.volume_l += litres
        if kept < 0.995:
            self.disturbed()

    def lose(self, litres: float) -> None:
        """Water leaves as it is."""
        share = min(1.0, litres / self.volume_l)
        for name in AMOUNTS:
            self._bring(name, -share * self.mol[name])
        self.came["salt_later"] -= share * self.salt_later
        self.salt_later *= 1 - share
        self.volume_l -= share * self.volume_l

    def evaporate(self, litres: float) -> None:
        """Water leaves, and nothing dissolved with it."""
        kept = 1 - litres / self.volume_l
        self.volume_l *= kept
        self.cc_ppm /= kept

    def spend(self, fc_ppm: float) -> float:
        """Use up free chlorine, at most what there is: HOCl -> H+ + Cl- + 1/2 O2. Returns what was, ppm."""
        there = self.mol["cl2"]
        gone = min(there, max(0.0, fc_ppm) / 1000 / k.CL2 * self.volume_l)
        if gone <= 0:
            return 0.0
        left = self.salt_later * gone / there
        self.mol["cl2"] -= gone
        self.mol["alk"] -= gone
        self.mol["salt"] += left
        self.salt_later -= left
        self.counted.spent += gone
        return float(gone / self.volume_l * 1000 * k.CL2)

    def make_chlorine(self, grams: float) -> None:
        """A cell makes chlorine from salt: NaCl + H2O -> NaOCl + H2; at most from the salt there is."""
        made = min(grams / k.CL2, self.mol["salt"])
        self.mol["cl2"] += made
        self.mol["alk"] += made
        self.mol["salt"] -= made
        self.salt_later += made
        self.counted.made += made

    def exchange_gas(self, share: float) -> None:
        """CO2 moves toward the air's by first-order exchange; share: rate times time, small."""
        left = share * (self.co2() - self.co2_of_air()) * self.volume_l
        self.mol["ct"] -= left
        self.counted.gas += left

    def scale(self, mol: float) -> None:
        """Calcium carbonate leaves the water for a cell's plates."""
        self.mol["ca"] -= mol
        self.mol["ct"] -= mol
        self.mol["alk"] -= 2 * mol
        self.counted.scaled += mol

    def _bring(self, name: str, amount: float) -> None:
        self.mol[name] += amount
        self.came[name] += amount


_PPM = {
    "alk": k.TA_PPM_PER_EQ_L,
    "ct": 1000.0,
    "cya": 1000 * k.CYANURIC,
    "b": 1000 * k.BORON,
    "cl2": 1000 * k.CL2,
    "ca": k.CH_PPM_PER_MOL_L,
    "salt": 1000 * k.NACL,
    "so4": 1000 * k.SULFATE,
}
