"""Settings of a zone in any company: a job runs or says why not, and the rows of its tables may come in any order."""

import numpy as np
import pandas as pd
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from sandwich import InputError, explain_point, run_job
from test_ring import ring

PLACES = {(r, a) for r in (2, 3) for a in (3, 4)}  # an opening of four elements of a ring of 6 x 20
CHOICES = {
    "method": ['"sandwich"', '"plate"', '"membrane"'],
    "minimum_gaps": ["0"],
    "joint": ["true"],
    "uncracked": ['"exempt"'],
    "compression_bars": ["true"],
    "shear_steel": ['"cos4"'],
    "links": ["{ cot_theta = 1.0, raise_bars = 1.5 }"],
    "points": ['"corners"', '"centres"'],
    "peaks": ['{ width = 2.0, at = "found" }'],
    "top_direction": ['{ along = "vector", vector = [1, 0, 0] }'],
    "service": ["{}", '{ add_reinforcement = true, minimum_reinforcement = "restraint" }', "{ steel_stress = 150 }"],
    "layout": ["{ rectangles = 3, module = 1.0, seconds = 1 }"],
    "provided": ['{ "bottom x" = { diameter = 12, spacing = 150 } }'],
    "limits": ["{ minimum_steel = 500 }", "{ bar_ratio = 0.06 }"],
    "edges": ["{}"],
    "fire": ["{ minutes = 90 }"],
}
COLUMN = '[punching.c]\nzone = "ring"\nat = [[0, -5, 0]]\nc1 = 300\nc2 = 500\nforce = { G = -300 }\nreinforcement = "studs"\n'
SERVICE = "".join(
    f'[[combinations]]\nname = "{name}"\nsituation = "{name}"\nfactors = {{ G = 1.0 }}\n'
    for name in ("characteristic", "quasi-permanent")
)


def some(name):
    return st.sampled_from([None, None, None, *CHOICES[name]])  # few at a time: many refuse each other


@settings(max_examples=8, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow])
@given(
    chosen=st.fixed_dictionaries({name: some(name) for name in CHOICES}), column=st.booleans(), thin=st.integers(3, 6)
)
def test_it_runs_or_says_why_not_whatever_the_order(tmp_path_factory, chosen, column, thin):
    folder = tmp_path_factory.mktemp("any")
    extra = "\n".join(f"{name} = {value}" for name, value in chosen.items() if value is not None)
    extra += "\n" + COLUMN * column + SERVICE
    tables = []
    for mixed in (None, 1):
        try:
            job = ring(folder / str(mixed), extra=extra, hole=PLACES, thin=thin, mixed=mixed, size=(6, 20))
            result = run_job(job, pictures=False)
        except InputError as told:
            tables.append(str(told).replace(str(folder / str(mixed)), ""))
            continue
        steel = result.steel.set_index(["point", "layer"]).sort_index()
        assert (steel["required [mm2/m]"].notna() | (steel["status"] != "ok")).all()
        kept = result.frame("punching") if column else pd.DataFrame()
        tables.append((steel, kept))
        worst = result.frame("checks").sort_values("utilisation")["point"].iloc[-1]
        assert "nan" not in str(explain_point(job, f"ring/{worst}")).split()
    if isinstance(tables[0], str):
        assert tables[0] == tables[1]
        return
    (here, near), (there, other) = tables
    assert here.index.equals(there.index)
    for column_ in here.columns.intersection(["required [mm2/m]", "provided [mm2/m]", "utilisation"]):
        np.testing.assert_allclose(there[column_], here[column_], rtol=1e-5, atol=1e-3)
    if column:
        assert other["utilisation"].tolist() == pytest.approx(near["utilisation"].tolist(), rel=1e-5)
