"""PHREEQC as the outside reference: phreeqc.dat (USGS TM 6-A43) plus stabilizer and free chlorine.

The cyanurate constants are O'Brien, Morris & Butler (1974) at 25 C only, HOCl is Morris (1966), both as the
check values give them; every chlorinated cyanurate is written as cyanurate + hypochlorite - water.
Nothing here imports kumpan: the conversion from ppm is written out again on purpose.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

from phreeqpython import PhreeqPython

# Element Cy: the cyanurate ring as Cy-3 (mass as C3H3N3O3). Element Clx: active chlorine, not coupled to
# chloride.
MASTERS = """
SOLUTION_MASTER_SPECIES
  Cy   Cy-3   3.0  129.07  129.07
  Clx  ClxO-  1.0  70.906  70.906
SOLUTION_SPECIES
"""
# Accumulated from the published steps: log K of species (- waters) = Cy-3 + n H+ + m HOCl.
_CHAIN = {
    "HCy-2": ("Cy-3 + H+", 0, 13.5),
    "H2Cy-": ("Cy-3 + 2 H+", 0, 13.5 + 11.40),
    "H3Cy": ("Cy-3 + 3 H+", 0, 13.5 + 11.40 + 6.88),
    "HClxCy-": ("Cy-3 + 2 H+ + HClxO", 1, 13.5 + 11.40 + 5.62),
    "ClxCy-2": ("Cy-3 + H+ + HClxO", 1, 13.5 + 11.40 + 5.62 - 10.12),
    "H2ClxCy": ("Cy-3 + 3 H+ + HClxO", 1, 13.5 + 11.40 + 6.88 + 4.07),
    "Clx2Cy-": ("Cy-3 + 2 H+ + 2 HClxO", 2, 13.5 + 11.40 + 5.62 + 4.51),
    "HClx2Cy": ("Cy-3 + 3 H+ + 2 HClxO", 2, 13.5 + 11.40 + 6.88 + 4.07 + 2.93),
}


def _species(ideal: bool) -> str:
    flat = "  -gamma 1e12 0.0\n" if ideal else ""
    text = f"Cy-3 = Cy-3\n  log_k 0\n{flat}ClxO- = ClxO-\n  log_k 0\n{flat}"
    # log10 K of H+ + OCl- = HOCl is Morris's pKa: analytic in A1, A2 T, A3/T.
    text += f"H+ + ClxO- = HClxO\n  -analytic -10.0686 0.0253 3000 0 0\n{flat}"
    for name, (left, waters, log_k) in _CHAIN.items():
        text += f"{left} = {name}{f' + {waters} H2O' if waters else ''}\n  log_k {log_k}\n{flat}"
    return text


@dataclass(frozen=True)
class Answer:
    """One PHREEQC solution: its number for further steps, and what it reads."""

    number: int
    ph: float
    ta_ppm: float
    ct: float
    si: float
    mu: float
    hocl_ppm: float
    ocl_ppm: float
    co2_uatm: float
    carbonate_alk_ppm: float
    fc_ppm: float
    cya_ppm: float
    ch_ppm: float
    borate_ppm: float


class Phreeqc:
    """One PHREEQC instance. ideal: cyanurate and chlorine species with activity = concentration."""

    def __init__(self, ideal: bool = False) -> None:
        self.ip = PhreeqPython(database="phreeqc.dat").ip
        self.ip.run_string(MASTERS + _species(ideal))
        self.ip.run_string("""SELECTED_OUTPUT 1
  -reset false
USER_PUNCH 1
  -headings ph alk ct si mu hocl ocl co2 b_alk cy_alk fc cy ca b
  10 PUNCH -LA("H+"), ALK, TOT("C(4)"), SI("Calcite"), MU, MOL("HClxO"), MOL("ClxO-"), SR("CO2(g)")
  20 PUNCH MOL("H2BO3-"), MOL("H2Cy-") + 2*MOL("HCy-2") + 3*MOL("Cy-3") + MOL("HClxCy-") + 2*MOL("ClxCy-2") + MOL("Clx2Cy-")
  30 PUNCH TOT("Clx"), TOT("Cy"), TOT("Ca"), TOT("B"), MOL("OH-"), MOL("H+")
END
""")
        self.count = 0

    def _run(self, text: str) -> Answer:
        self.ip.run_string(text)
        row = self.ip.get_selected_output_array()[-1]
        ph, alk, ct, si, mu, hocl, ocl, co2, b_alk, cy_alk, fc, cy, ca, b, oh, h = row
        carbonate = alk - b_alk - cy_alk - ocl - oh + h
        return Answer(
            self.count,
            ph,
            alk * 50_043,
            ct,
            si,
            mu,
            hocl * 70_906,
            ocl * 70_906,
            co2 * 1e6,
            carbonate * 50_043,
            fc * 70_906,
            cy * 129_070,
            ca * 100_087,
            b * 10_810,
        )

    def water(
        self,
        ph: float,
        ta: float | None,
        ch: float = 0,
        cya: float = 0,
        salt: float = 0,
        borate: float = 0,
        fc: float = 0,
        temp_c: float = 25,
        so4: float = 0,
    ) -> Answer:
        """A water from its tests (ppm as the trade has them; so4 mg/L); Na and Cl by the ion
        budget. ta None: no carbonate.
        """
        self.count += 1
        alk, ca, s = (ta or 0.0) / 50_043, ch / 100_087, so4 / 96_060
        nacl = salt / 58_443
        na = nacl + 2 * s + max(0.0, alk - 2 * ca)
        cl = nacl + max(0.0, 2 * ca - alk)
        return self._run(
            f"SOLUTION {self.count}\n units mol/kgw\n temp {temp_c}\n pH"
            f" {ph}\n{'' if ta is None else f' Alkalinity {alk}'}\n Ca {ca}\n Na {na}\n Cl {cl}\n B"
            f" {borate / 10_810}\n Cy {cya / 129_070}\n Clx {fc / 70_906}\n S(6) {s}\nSAVE solution"
            f" {self.count}\nEND\n"
        )

    def react(self, start: int, moles: dict[str, float]) -> Answer:
        """The water after adding these formulas, mol per litre (negative takes out)."""
        self.count += 1
        lines = "\n".join(f" {formula} {amount:.12g}" for formula, amount in moles.items())
        return self._run(
            f"USE solution {start}\nREACTION 1\n{lines}\n 1 moles\nSAVE solution {self.count}\nEND\n"
        )

    def mix(self, first: int, second: int, share: float) -> Answer:
        """The mixture holding ``share`` of the second."""
        self.count += 1
        return self._run(
            f"MIX {self.count}\n {first} {1 - share}\n {second} {share}\nSAVE solution {self.count}\nEND\n"
        )

    def cooled(self, start: int, temp_c: float, co2_uatm: float | None = None) -> Answer:
        """The water at another temperature, closed; or in balance with air of this CO2 there."""
        self.count += 1
        air = "" if co2_uatm is None else f"EQUILIBRIUM_PHASES 1\n CO2(g) {math.log10(co2_uatm * 1e-6)} 10\n"
        return self._run(
            f"USE solution {start}\nREACTION_TEMPERATURE 1\n {temp_c}\n{air}SAVE solution {self.count}\nEND\n"
        )

    def aerate(self, start: int, co2_uatm: float = 420) -> Answer:
        """The water in balance with air of this CO2."""
        self.count += 1
        return self._run(
            f"USE solution {start}\nEQUILIBRIUM_PHASES 1\n CO2(g) {math.log10(co2_uatm * 1e-6)} 10\nSAVE"
            f" solution {self.count}\nEND\n"
        )

    def amount_to(self, start: int, formula: str, ph: float, guess: float) -> float:
        """Moles per litre of a formula that bring pH there, by the secant rule."""

        def miss(moles: float) -> float:
            return self.react(start, {formula: moles}).ph - ph

        return secant(miss, 0.0, guess)


def secant(f: Callable[[float], float], a: float, b: float) -> float:
    """A root near a and b."""
    fa, fb = f(a), f(b)
    for _ in range(20):
        if fb == fa or abs(fb) < 1e-6:
            break
        a, fa, b = b, fb, b - fb * (b - a) / (fb - fa)
        fb = f(b)
    return b
