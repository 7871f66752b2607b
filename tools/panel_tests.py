"""Published panel tests against the strength of a layer; ``python -m tools.panel_tests`` draws the picture of the docs.

Panels under in-plane forces are one layer: bars at yield, concrete at the strength of a cracked layer with partial
factors and long-term coefficient of 1. The load factor comes from limit analysis.
"""

from pathlib import Path

import numpy as np
import pandas as pd
from matplotlib.figure import Figure

from sandwich.mechanics.limit import load_factor
from sandwich.standards.en1992.struts import nu_prime, sigma_Rd_max_cracked

ROOT = Path(__file__).parents[1]
PANELS = ROOT / "tests" / "reference" / "panels.csv"
PICTURE = ROOT / "docs" / "screenshots" / "panels.png"
COLOURS = {"high": "#1c2b33", "medium": "#7fb3d5", "low": "#f0b27a"}


def compared() -> pd.DataFrame:
    """The panels with computed strength [MPa] and computed over observed strength; edge failures marked."""
    panels = pd.read_csv(PANELS)
    computed = []
    for p in panels.itertuples():
        state = load_factor(
            [p.nx, p.ny, p.nxy, 0.0, 0.0, 0.0],
            1.0,
            [0.0, 0.0],
            [0.0, np.pi / 2],
            [p.rho_x * p.fyx, p.rho_y * p.fyy],
            float(sigma_Rd_max_cracked(p.fc, nu_prime(p.fc))),
            layers=1,
        )
        computed.append(max(state.lower, 0.0) * abs(p.nxy))
    edge = panels["failure"].fillna("").str.startswith("edge failure")
    return panels.assign(computed=computed, ratio=np.array(computed) / panels["v_u"], edge=edge)


def draw(panels: pd.DataFrame, path: Path) -> None:
    """Computed over observed strength against the weaker degree of reinforcement."""
    figure = Figure(figsize=(12.8, 6.4), dpi=100, layout="tight")
    axes = figure.subplots()
    degree = np.minimum(panels["rho_x"] * panels["fyx"], panels["rho_y"] * panels["fyy"]) / panels["fc"]
    for confidence, colour in COLOURS.items():
        of = panels["confidence"] == confidence
        for edge, marker in ((False, "o"), (True, "^")):
            at = of & (panels["edge"] == edge)
            if at.any():
                label = f"{confidence}{', edge failure: observed is a lower bound' if edge else ''}"
                axes.plot(degree[at], panels["ratio"][at], marker, color=colour, markersize=8, label=label)
    x, y = degree.to_numpy(), panels["ratio"].to_numpy()
    for i, name in enumerate(panels["name"]):
        far = np.hypot((x - x[i]) / 0.1, (y - y[i]) / 0.2)
        far[i] = np.inf
        next_to = far.argmin()
        right, up = (1 if v[i] >= v[next_to] else -1 for v in (x, y))  # away from the next point
        axes.annotate(
            name, (x[i], y[i]), xytext=(6 * right, 5 * up), textcoords="offset points", fontsize=8,
            ha="left" if right > 0 else "right", va="bottom" if up > 0 else "top",
        )  # fmt: skip
    axes.axhline(1.0, color="#1c2b33", lw=0.8)
    axes.set(xlabel="weaker degree of reinforcement, rho f_y / f_c [-]", ylabel="computed over observed strength [-]")
    axes.set_ylim(-0.05, 1.35)
    axes.legend(frameon=False, title="certainty of the transcription", loc="lower right")
    axes.set_title("Panels in plane: one layer at the strength of cracked concrete, all factors 1", loc="left")
    axes.grid(visible=True, lw=0.3)
    figure.savefig(path)


if __name__ == "__main__":
    table = compared()
    draw(table, PICTURE)
    print(table[["name", "confidence", "v_u", "computed", "ratio", "failure"]].round(2).to_string(index=False))
    sure = table[(table["confidence"] == "high") & ~table["edge"]]["ratio"]
    print(f"high, without edge failures: {len(sure)} panels, mean {sure.mean():.2f}, maximum {sure.max():.2f}")
