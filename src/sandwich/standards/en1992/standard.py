"""EN 1992-1-1:2004 behind the interface of the design stages, with one set of national values."""

from __future__ import annotations

import math
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from importlib.resources import as_file, files
from pathlib import Path
from typing import Any, Final

import numpy as np
from numpy.typing import ArrayLike

from sandwich.core.errors import Fault, Faults, InputError
from sandwich.core.section import Concrete, Steel
from sandwich.core.situations import check_ultimate
from sandwich.mechanics.block import StressBlock
from sandwich.mechanics.crack import FaceCrack
from sandwich.standards.arrangement import Arrangement, Floats, each
from sandwich.standards.column import ColumnLoad, ControlRule, Punched, SlabColumn
from sandwich.standards.cracks import CrackWidth, FirstCracks, QuickCheck, StressLimits
from sandwich.standards.en1992 import (
    compression,
    crack_control,
    flexure,
    links,
    materials,
    member,
    minimum,
    shear,
    shells,
    slab_column,
    stresses,
    struts,
    tightness,
)
from sandwich.standards.en1992.columns import EN1992Columns
from sandwich.standards.en1992.durability import EN1992Cover
from sandwich.standards.en1992.laps import EN1992Anchorage
from sandwich.standards.en1992.links import LINKS_FROM
from sandwich.standards.en1992.walls import EN1992Walls
from sandwich.standards.en1998.building import EN1998Building
from sandwich.standards.en1998.wall_beams import EN1998Coupling
from sandwich.standards.en1998.wall_ends import EN1998Ends
from sandwich.standards.interface import Links, MemberLaw, ShearDemand, ShearSection, Strengths

EPS_C3: Final = 0.00175  # table 3.1 up to C50/60, and less than beyond
ANGLE_RULE: Final = "EN 1992-2, 6.109"
COUNTRIES: Final = ("at", "cz", "de", "fr", "gr", "it", "ro", "uk")
_CLAUSES = {
    "layers": "6.5.2", "axial": "6.1(4)", "yield": "3.1.7", "shear": "6.2.2", "links": "6.2.3", "struts": "6.2.3(3)",
    "minimum of slabs": "9.3.1.1(1)",
    "maximum steel": "9.2.1.1(3)", "spacing": "9.3.1.1(3), 9.6.2(3), 9.6.3(2)", "uncracked": "EN 1992-2 LL.101",
    "angle": "EN 1992-2 6.109(103)",
    "ties": "9.6.4", "punching": "6.4", "punching links": "6.4.5",
    "crack width": "7.3.4", "bars for cracks": "7.3.3", "minimum for cracking": "7.3.2", "tightness": "EN 1992-3 7.3.1",
}  # fmt: skip
_READINGS = (
    "layers: eta f_cd, and 0.6 nu' f_cd of (6.56) where the demand has a principal tension or a bar of the face pulls",
    "compression of a wall: concrete alone at the eccentricity of 6.1(4), cracked where there is tension across",
    "shear where the section is uncracked in bending along it: the bars of either face count",
    "punching: moments of both directions at once by (6.39) joined as in (6.43); wall ends beta 1.35, corners 1.2",
    "punching: columns more than 1.5 d from an edge are no edge columns in 6.4.3(4), (5) and 6.4.5(3)",
    "crack width: with the mean principal strain across the crack at the bars, formed again from bar strains by (7.9)",
    "crack width: x, h_c,ef and k_2 along the crack's normal; bars within 15 degrees of it count alone, else (7.15)",
    "walls: z 0.8 of the length, half of the vertical bars as tension steel, struts of 45 degrees under net tension",
    "wall ends and corners: a length of wall up to its thickness, and up to 2.8 d less half of it, counts each way",
)


@dataclass(frozen=True)
class EN1992(EN1992Walls, EN1998Ends, EN1998Coupling, EN1998Building, EN1992Anchorage, EN1992Cover, EN1992Columns):
    """EN 1992-1-1:2004; `parameters` is a national set as read from its TOML file."""

    parameters: dict[str, Any]
    cracked: str = "6.5.2"

    @classmethod
    def recommended(cls) -> EN1992:
        """The standard with the values it recommends."""
        text = files("sandwich.standards").joinpath("parameters", "en1992_recommended.toml").read_text("utf-8")
        return cls(tomllib.loads(text))

    @classmethod
    def national(cls, country: str) -> EN1992:
        """The standard with the values of a shipped national set, see `COUNTRIES`."""
        with as_file(files("sandwich.standards").joinpath("parameters", "en1992", f"{country}.toml")) as path:
            return cls.with_values(path)

    @classmethod
    def with_values(cls, path: Path) -> EN1992:
        """The standard with values of a TOML file over the recommended ones.

        Parameters
        ----------
        path : Path
            File with the sections and keys of ``en1992_recommended.toml``, and a ``name``.

        Returns
        -------
        EN1992
            Recommended values where the file gives none.

        Raises
        ------
        InputError
            With every key that is not known and every value that is no positive number.
        """
        try:
            own = tomllib.loads(path.read_text("utf-8"))
            own_rules = [str(rule) for rule in own.pop("own_rules", [])]
        except (OSError, ValueError) as error:
            found = f"cannot be read ({str(error).splitlines()[0]})"
            raise InputError([Fault(str(path), found, 'use "recommended" or a TOML file of values')]) from None
        base = cls.recommended().parameters
        faults = Faults()
        merged: dict[str, Any] = {"name": str(own.pop("name", path.stem)), "own_rules": own_rules}
        for section, known in base.items():
            if section in ("name", "own_rules"):
                continue
            given = own.pop(section, {})
            for key, value in given.items():
                where = f"{path.name}, {section}.{key}"
                if key not in known:
                    faults.add(where, "is no parameter", f"use one of {', '.join(known)}")
                elif isinstance(value, bool) or not isinstance(value, (int, float)) or not 0.0 <= value < math.inf:
                    faults.add(where, f"found {value!r}", "give a number of zero or more")
            merged[section] = {**known, **given}
        for section in own:
            faults.add(f"{path.name}, {section}", "is no section", f"use one of {', '.join(base)}")
        faults.stop()
        return cls(merged)

    @property
    def name(self) -> str:
        """Standard, year and the set of national values."""
        return f"EN 1992-1-1:2004, {self.parameters['name']}"

    @property
    def clauses(self) -> Mapping[str, str]:
        """Clause behind each check of the tables."""
        return _CLAUSES

    @property
    def readings(self) -> tuple[str, ...]:
        """What is read into the standard where it has no rule of its own."""
        return _READINGS

    @property
    def to_check(self) -> tuple[str, ...]:
        """What is to be checked against the national annex: the values, and rules of it that they do not hold."""
        if self == EN1992.recommended():
            return ("nationally determined parameters are the recommended ones: check them against the national annex",)
        values = (
            f"nationally determined parameters are those of {self.parameters['name']}, the recommended ones where it "
            "gives none: check them against the national annex"
        )
        rules = (
            f"the annex has a rule that these values do not hold: {r}" for r in self.parameters.get("own_rules", ())
        )
        return (values, *rules)

    def strengths(self, concrete: Concrete, steel: Steel, situation: str) -> Strengths:
        """Design strengths: bars at yield; layers by 6.5.2; the depth at which bars still reach yield."""
        check_ultimate(situation)
        partial = self.parameters[situation]
        f_ck = concrete.cylinder
        f_cd = materials.f_cd(f_ck, gamma_c=partial["gamma_c"], alpha_cc=self._value("alpha_cc"))
        f_yd = materials.f_yd(steel.f_yk, gamma_s=partial["gamma_s"])
        uncracked = struts.sigma_Rd_max(f_cd, materials.eta(f_ck))
        cracked = struts.sigma_Rd_max_cracked(f_cd, struts.nu_prime(f_ck), k=self._value("k_strut"))
        per_degree = 0.0
        if self.cracked == ANGLE_RULE:
            nu, per_degree = links.nu_1(f_ck, factor=self._value("nu_factor")), self._value("strut_per_degree")
            cracked = shells.sigma_cd_max(nu, f_cd, factor=per_degree)
            uncracked = min(
                uncracked, shells.sigma_cd_whole(f_cd)
            )  # compressed one way: what more both ways give is left
        eps_cu = float(materials.eps_cu3(f_ck))
        return Strengths(
            f_yd=float(f_yd),
            fc_cracked=float(cracked),
            fc_uncracked=float(uncracked),
            depth_limit=eps_cu / (eps_cu + float(f_yd) / steel.E_s),
            block=float(materials.lambda_(f_ck)),
            fc_bending=float(uncracked),
            f_yd_deep=float(f_yd),
            per_degree=per_degree,
            max_turn=shells.MAX_TURN,
            compressed=min(1.0, steel.E_s * EPS_C3 / float(f_yd)),
        )

    def stress_block(self, concrete: Concrete, steel: Steel, situation: str) -> StressBlock:
        """Rectangular block in an ultimate situation (3.1.7(3)) with the partial factors of the set."""
        check_ultimate(situation)
        factors = self.parameters[situation]
        return flexure.stress_block(
            concrete.cylinder, steel.f_yk, gamma_c=factors["gamma_c"], gamma_s=factors["gamma_s"],
            alpha_cc=self._value("alpha_cc"), E_s=steel.E_s,
        )  # fmt: skip

    def member_law(self, concrete: Concrete, steel: Steel, situation: str) -> MemberLaw:
        """Parabola and rectangle in an ultimate situation (3.1.7(1)) with the partial factors of the set."""
        check_ultimate(situation)
        factors = self.parameters[situation]
        return member.member_law(
            concrete.cylinder, steel.f_yk, gamma_c=factors["gamma_c"], gamma_s=factors["gamma_s"],
            alpha_cc=self._value("alpha_cc"), E_s=steel.E_s,
        )  # fmt: skip

    def minimum_steel(
        self, rule: str, concrete: Concrete, steel: Steel, h: ArrayLike, bars: Arrangement, required: ArrayLike
    ) -> Floats:
        """Minimum area of each bar layer by the rule of a slab or a wall.

        Parameters
        ----------
        rule : {'slab', 'wall', 'none'}
            Which clauses apply: 9.2.1.1 and 9.3.1.1, 9.6.2 and 9.6.3, or none.
        concrete, steel : Concrete, Steel
            Materials [MPa].
        h : array_like, shape (p,)
            Thickness [mm].
        bars : Arrangement
            Bar layers.
        required : array_like, shape (p, b)
            Area required by the ultimate design [mm2/mm].

        Returns
        -------
        ndarray, shape (p, b)
            Minimum area [mm2/mm]; zero where there is no bar, and on a face of a slab that is never in tension.

        References
        ----------
        EN 1992-1-1:2004, 9.2.1.1, 9.3.1.1, 9.6.2, 9.6.3.
        """
        h, required = np.asarray(h, dtype=float), np.asarray(required, dtype=float)
        least = np.zeros(required.shape)
        if rule == "slab":
            tension = minimum.a_s_min_slab(np.nan_to_num(bars.depths), materials.f_ctm(concrete.cylinder), steel.f_yk)
            least = np.where(required > 0.0, tension, 0.0)
            both = np.maximum(required, least)
            for i in range(required.shape[-1]):
                principal = np.where(bars.across(i), both, 0.0).max(-1)
                least[..., i] = np.maximum(least[..., i], minimum.a_s_secondary(principal))
        elif rule == "wall":
            up, there = bars.upright, bars.there
            least = np.where(up, each(minimum.a_s_vmin(h, ratio=self._value("A_s_vmin")), there & up), 0.0)
            a_v = np.where(there & up, np.maximum(required, least), 0.0).sum(-1)
            a_h = minimum.a_s_hmin(h, a_v, ratio=self._value("A_s_hmin"))
            least = np.where(up, least, each(a_h, there & ~up))
        return np.where(bars.there, least, 0.0)

    def maximum_steel(self, h: ArrayLike) -> Floats:
        """Maximum area of one direction, both faces together [mm2/mm]."""
        return np.asarray(minimum.a_s_max(np.asarray(h, dtype=float), ratio=self._value("A_s_max")))

    def axial_resistance(self, fc: ArrayLike, h: ArrayLike) -> Floats:
        """Compression with the minimum eccentricity of 6.1(4) [N/mm]."""
        h = np.asarray(h, dtype=float)
        return np.asarray(compression.n_Rd(np.asarray(fc, dtype=float), h, compression.e_0(h)))

    def maximum_spacing(self, rule: str, h: float, d: float) -> float:  # noqa: ARG002
        """Maximum spacing of bars [mm] by 9.3.1.1(3), 9.6.2(3) and 9.6.3(2)."""
        return float(self._spacing(h, wall=rule == "wall")) if rule != "none" else math.inf

    def _spacing(self, h: float, *, wall: bool) -> float:
        part, most = (self._value(f"s_{of}_{'wall' if wall else 'slab'}") for of in ("factor", "most"))
        return float(minimum.s_max_slabs(h, part=part, most=most))

    def ties(self, diameter: ArrayLike, h: ArrayLike) -> tuple[Floats, Floats]:
        """Minimum diameter and maximum spacing of ties round bars in compression [mm]."""
        return np.asarray(minimum.d_ties(diameter)), np.asarray(minimum.s_ties(diameter, h))

    def principal_shear(self, v_x: ArrayLike, v_y: ArrayLike) -> tuple[Floats, Floats]:
        """Principal transverse shear [N/mm] and its direction [rad], as Annex LL of EN 1992-2:2005 has it."""
        v_Ed, phi = shear.principal_shear(v_x, v_y)
        return v_Ed, phi

    def tension_ratio(self, rho_x: ArrayLike, rho_y: ArrayLike, phi: ArrayLike, rho_xy: ArrayLike = 0.0) -> Floats:
        """Ratio of tension steel [-] in the direction of the shear, as Annex LL of EN 1992-2:2005 has it."""
        return np.asarray(shear.rho_l(rho_x, rho_y, phi, rho_xy))

    def shear_resistance(self, of: ShearSection) -> Floats:
        """Shear resistance without links by 6.2.2(1) [N/mm]."""
        gamma_c, f_ck = self.parameters[of.situation]["gamma_c"], of.concrete.cylinder
        size = shear.k(of.d)
        factor = shear.v_min_factor(of.d, self._value("v_min_factor"), self._value("v_min_deep_factor"))
        least = shear.v_min(size, f_ck, factor=factor)
        return np.asarray(
            shear.v_Rd_c(
                of.d, size, of.rho_l, f_ck, least, of.sigma,
                C_Rd_c=self._value("C_Rd_c_factor") / gamma_c, k_1=self._value("k_1"),
            )
        )  # fmt: skip

    def links(self, of: ShearDemand) -> Links:
        """Vertical links by 6.2.3, which carry the whole shear force: the resistance without is not counted."""
        partial, f_ck = self.parameters[of.situation], of.concrete.cylinder
        f_cd = materials.f_cd(f_ck, gamma_c=partial["gamma_c"], alpha_cc=self._value("alpha_cc"))
        f_ywd = materials.f_yd(of.steel.f_yk, gamma_s=partial["gamma_s"])
        z = 0.9 * np.asarray(of.d, dtype=float)
        nu = links.nu_1(f_ck, factor=self._value("nu_factor"))
        least = links.rho_w_min(f_ck, of.steel.f_yk, factor=self._value("rho_w_factor"))
        cot_theta = min(of.cot_theta, self._value("cot_theta_max"))
        area = np.maximum(links.a_sw(np.asarray(of.v_Ed, dtype=float), z, f_ywd, cot_theta), least)
        return Links(area, np.asarray(links.v_Rd_max(z, nu, f_cd, cot_theta)), np.full(z.shape, cot_theta))

    def cracking(self, concrete: Concrete, sigma_1: ArrayLike, sigma_2: ArrayLike) -> Floats:
        """Criterion (LL.101) of Annex LL of EN 1992-2:2005 [-]."""
        f_ck = concrete.cylinder
        return np.asarray(shells.Phi(sigma_1, sigma_2, materials.f_cm(f_ck), materials.f_ctm(f_ck)))

    def flexural_tension(self, concrete: Concrete, situation: str) -> float:
        """f_ctk,0.05/gamma_c [MPa], as 6.2.2(2) has it."""
        f_ctm = materials.f_ctm(concrete.cylinder)
        return float(materials.f_ctd(f_ctm, gamma_c=self.parameters[situation]["gamma_c"]))

    def axial_stress(self, concrete: Concrete, situation: str, n: ArrayLike, h: ArrayLike) -> Floats:
        """Mean axial stress sigma_cp [MPa] of a membrane force n [N/mm], tension positive."""
        gamma_c = self.parameters[situation]["gamma_c"]
        f_cd = materials.f_cd(concrete.cylinder, gamma_c=gamma_c, alpha_cc=self._value("alpha_cc"))
        return np.asarray(shear.sigma_cp(-np.asarray(n, dtype=float), h, f_cd))

    @property
    def links_thickness(self) -> float:
        """9.3.2(1) [mm]."""
        return LINKS_FROM

    def control(self, h: float, d: float) -> ControlRule:  # noqa: ARG002
        """Where punching is looked at in a slab of thickness h and effective depth d [mm]."""
        return slab_column.control(d)

    def punching(self, concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad) -> Punched:
        """Punching of a loaded area under one combination."""
        return slab_column.punch(self.parameters, concrete, steel, column, load)

    def minimum_over_column(self, concrete: Concrete, steel: Steel, column: SlabColumn, load: ColumnLoad) -> float:  # noqa: ARG002
        """None: the standard asks for none [mm2/mm]."""
        return 0.0

    @property
    def width_limits(self) -> Mapping[str, float]:
        """Table 7.1N of reinforced members [mm]."""
        return {"quasi-permanent": self._value("w_max")}

    @property
    def simplified_rules(self) -> bool:
        """7.3.3 stands in for 7.3.4 where it is kept."""
        return False

    def modulus(self, concrete: Concrete, creep: float) -> float:
        """Modulus of the concrete [MPa], effective with a creep coefficient."""
        return crack_control.modulus(concrete, creep)

    def stress_limits(self, concrete: Concrete, steel: Steel, situation: str, *, imposed: bool) -> StressLimits:
        """Stresses of 7.2 [MPa]."""
        return crack_control.stress_limits(self.parameters["values"], concrete, steel, situation, imposed=imposed)

    def crack_width(self, concrete: Concrete, face: FaceCrack, *, long: bool) -> CrackWidth:
        """Crack width of 7.3.4."""
        return crack_control.crack_width(self.parameters["values"], concrete, face, long=long)

    def crack_check(self, concrete: Concrete, face: FaceCrack, limit: Floats) -> QuickCheck | None:
        """Diameters and spacings of 7.3.3."""
        return crack_control.by_tables(concrete, face, limit)

    def minimum_for_cracking(self, of: FirstCracks) -> Floats:
        """Minimum steel of 7.3.2 with the stress that 7.3.3(2) allows the diameter [mm2/mm]; nan past table 7.2N."""
        f_ct = of.part * float(materials.f_ctm(of.concrete.cylinder))
        return crack_control.minimum_for_cracking(of, f_ct)

    def tightness(self, h: Floats, head: Floats) -> tuple[Floats, Floats]:
        """Widths of EN 1992-3:2006, tightness class 1, and x_min [mm]."""
        return np.asarray(tightness.w_k1(head, h)), np.asarray(tightness.x_min(h))

    def tendon_stress(self, f_pk: float) -> float:
        """k_5 f_pk of 7.2(5) [MPa]."""
        return float(stresses.sigma_p_mean(f_pk, k_5=self._value("k_5_stress")))
