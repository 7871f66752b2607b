"""What a type checker sees of the library: real types behind the names that are resolved on demand."""

from __future__ import annotations

from typing import assert_type

import pandas as pd

from sandwich import PointDesign, Section, design_points, load_factor, wood_armer
from sandwich.core.trace import Sheet
from sandwich.mechanics.limit import LimitState

design = design_points([[100.0, -40.0, 30.0, 35e3, -20e3, 12e3, 25.0, 10.0]], Section(250.0), standard="IS 456:2000")
assert_type(design, PointDesign)
assert_type(design.frame("checks"), pd.DataFrame)
assert_type(design.explain("1"), Sheet)
moments = design.resultants[0, 0, :6]
state = load_factor(moments, 250.0, [104.0, 92.0, -104.0, -92.0], [0.0, 1.5708] * 2, design.ultimate.force[0], 15.0)
assert_type(state, LimitState)
print(f"{len(design.steel)} bar layers, load factor {state.lower:.2f}, {wood_armer(35.0, -20.0, 12.0)[0]:.0f} kNm/m")
