"""Bars averaged over strips: totals kept, peaks spread, each combination by itself; a job with column and middle strips."""

import numpy as np
import pytest
from numpy.testing import assert_allclose

from conftest import write_plate
from sandwich import BarLayers, Concrete, InputError, Steel, explain_point, run_job, try_job
from sandwich.commands.explain_crack import explain_crack
from sandwich.design.averaging import AveragingStrips
from sandwich.design.service_tables import WIDTH
from sandwich.design.settings import Settings
from sandwich.design.ultimate import design_ultimate
from sandwich.mechanics.superpose import superpose
from sandwich.model.strips import cells_of
from sandwich.project.project import Project
from sandwich.standards.en1992.standard import EN1992

BASE = Settings(BarLayers(30.0, 30.0), Concrete(30.0), Steel(500.0), EN1992.recommended())


def test_totals_are_kept_and_each_combination_is_averaged_by_itself():
    rng = np.random.default_rng(5)
    p, k = 30, 6
    cases = rng.normal(size=(p, k, 8)) * [60, 60, 30, 40e3, 40e3, 15e3, 20, 20]
    cells = np.stack([np.arange(p) // 6, np.arange(p) % 5, np.arange(p) // 6, np.arange(p) % 5], axis=1)
    cells[:4, 1] = -1
    area = rng.uniform(0.2, 1.0, p)
    h, kinds = np.full(p, 250.0), ["persistent"] * k

    def design(factors, strips=None):
        return design_ultimate(cases, factors, kinds[: len(factors)], h, BASE, strips=strips, workers=1)

    one = [design(np.eye(k)[[i]]) for i in range(k)]
    strips = AveragingStrips(cells, area)
    for i, points in enumerate(one):
        mean = design(np.eye(k)[[i]], strips)
        for b in range(4):
            for c in range(5):
                of = cells[:, b] == c
                by_points = area[of] @ points.a_s_ultimate[of, b]
                assert_allclose(area[of] @ mean.a_s_ultimate[of, b], by_points, rtol=1e-9, atol=1e-12)
                assert np.ptp(mean.a_s_ultimate[of, b]) <= 1e-12
        assert_allclose(mean.a_s_ultimate[:4, 1], points.a_s_ultimate[:4, 1])
    every = design(np.eye(k), strips)
    expected = np.max([design(np.eye(k)[[i]], strips).a_s_ultimate for i in range(k)], axis=0)
    expected[:4, 1] = design(np.eye(k)).a_s_ultimate[:4, 1]
    assert_allclose(every.a_s_ultimate, expected, rtol=1e-9, atol=1e-12)
    envelope = design(np.eye(k)).a_s_ultimate
    assert (every.a_s_ultimate.max(0) <= envelope.max(0) + 1e-12).all()


def test_cells():
    along, across = np.meshgrid(np.arange(0.0, 5.1, 0.5), np.arange(0.0, 4.1, 1.0))
    found = cells_of(1e3 * along.ravel(), 1e3 * across.ravel(), 1e3 * np.array([0.0, 1.5, 3.0]), 500.0)
    by_hand = np.where(across < 1.5, 0, np.where(across <= 3.0, 1, -1))
    assert ((found >= 0) == (by_hand.ravel() >= 0)).all()
    for i in np.unique(found[found >= 0]):
        of = found == i
        assert len(set(along.ravel()[of])) == 1
        assert len(set(by_hand.ravel()[of])) == 1


def test_a_job_with_strips(tmp_path):
    job = write_plate(tmp_path, n=12, size=0.5)
    text = job.read_text()
    plain = run_job(job, pictures=False)
    zone = 'minimum = "slab"\naveraging_strips = { x = [0, 1.75, 4.25, 6], y = [0, 3.25], step = 0.5 }'
    job.write_text(text.replace("[zones.plate]\n", f"[zones.plate]\n{zone}\n"))
    table = (tmp_path / "resultants.csv").read_text().splitlines()
    rng = np.random.default_rng(0)
    rows = [r.split(",") for r in table[1:]]
    for r in rows:
        r[6] = f"{float(r[6]) * rng.uniform(0.2, 2.0):g}"
    (tmp_path / "resultants.csv").write_text("\n".join([table[0], *(",".join(r) for r in rows)]) + "\n")
    result = run_job(job, pictures=False)
    (z,) = result.zones
    assert len(plain.steel) == len(result.steel)
    assert result.certificate.averages == (f"plate: {(z.strips.cells >= 0).any(1).sum()} of {len(z.h)}",)
    steel = result.steel.set_index(["layer", "point"])["required [mm2/m]"]
    bottom = steel["bottom x"].reindex(z.labels).to_numpy()
    for x in np.unique(z.xyz[:, 0]):
        for low, high in ((-1, 1749), (1751, 4249), (4251, 6001)):
            of = (z.xyz[:, 0] == x) & (low < z.xyz[:, 1]) & (z.xyz[:, 1] < high)
            assert np.ptp(bottom[of]) < 1e-9
    assert len(np.unique(bottom.round(6))) > 10
    assert run_job(job, pictures=False).reused == ("plate",)
    answer = {q.symbol: q.value for q in explain_point(job, z.labels[40]).answer}
    assert answer["bottom x"] == pytest.approx(steel["bottom x", z.labels[40]], rel=1e-9)
    tried = try_job(job, {"zones.plate.f_yk": "400"}).steel.set_index("layer")
    assert tried.loc["bottom x", "maximum before [mm2/m]"] == pytest.approx(bottom.max())
    assert tried.loc["bottom x", "maximum after [mm2/m]"] > bottom.max()
    # the service state sees the same strips: resultants along the bars averaged, and said
    job.write_text(
        text.replace("[zones.plate]\n", f"[zones.plate]\n{zone}\nservice = {{ widths = {{ frequent = 0.2 }} }}\n")
    )
    result = run_job(job, pictures=False)
    cracks = result.service.cracks
    at = str(cracks.loc[cracks[WIDTH].idxmax(), "point"])
    found = explain_crack(job, at).sheet
    steps = {step.title: step for _, step in found.steps}
    (mean,) = (s for t, s in steps.items() if t.startswith("Resultants averaged over a station"))
    (z,) = result.zones
    i, service = list(z.labels).index(at), result.combinations.service()
    k = service.names.index(next(q.value for q in found.answer if q.symbol == "combination"))
    of, area = z.strips.cells[:, 0] == z.strips.cells[i, 0], z.strips.tributary
    raw = superpose(z.cases, service.factors[[k]])[:, 0, 3]
    value = next(q.value for q in mean.results if q.symbol == "mx")
    assert value == pytest.approx(1e-3 * np.average(raw[of], weights=area[of]), rel=1e-9)
    assert abs(value - 1e-3 * raw[i]) > 0.01
    assert found.answer[0].value == pytest.approx(cracks[WIDTH].max(), rel=1e-9)
    for bad, words in (
        ("x = [2, 1]", "do not rise"),
        ("step = 1", "no edges"),
        ("x = [0, 1] }\nlinks = { ", "without links"),
    ):
        job.write_text(text.replace("[zones.plate]\n", f"[zones.plate]\naveraging_strips = {{ {bad} }}\n"))
        with pytest.raises(InputError, match=words):
            Project.of(job).load()
