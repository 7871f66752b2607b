"""Jobs on the pump wall of the reference data: the plain export and other exports of the same results."""

from conftest import REFERENCE

WALL = REFERENCE / "pump_wall"
ZONE = """
[zones.wall]
all = true
f_ck = 30
f_yk = 500
minimum = "wall"
direction = { along = "horizontal" }
top_side = { towards = [0, -1, 0] }
bars = { cover_bottom = 40, cover_top = 40, diameter_x = 16, diameter_y = 16, outer = "y" }
"""
COMBINATIONS = """
[[combinations]]
name = "U1 earth"
situation = "persistent"
factors = { SW = 1.35, EP = 1.35, SUR = 1.5, VL = 1.35, HX = 1.05 }
[[combinations]]
name = "U2 water"
situation = "persistent"
factors = { SW = 1.0, WP = 1.35, VL = 1.0, HX = -1.5 }
"""
PLAIN = f"""
title = "Pump wall"
[input]
nodes = {{ file = "{WALL}/plain/nodes.csv", columns = {{ node = "id" }} }}
elements = {{ file = "{WALL}/plain/elements.csv", columns = {{ element = "id" }} }}
axes = "{WALL}/plain/local_axes.csv"
cases = "{WALL}/plain/cases.csv"
resultants = "{WALL}/plain/resultants.csv.gz"
reactions = "{WALL}/plain/reactions.csv"
[input.signs]
positive_moment_tension = "top"
[input.units]
moment = "kN*m/m"
"""
K = f"{WALL}/kipft/wall_W3_"
KIPFT = f"""
title = "Pump wall of the other office"
[input]
missing = "leave out"
[input.units]
length = "ft"
thickness = "in"
membrane = "kip/ft"
moment = "kip-ft/ft"
shear = "kip/ft"
force = "kip"
couple = "kip-ft"
[input.nodes]
file = "{K}nodes.csv"
columns = {{ node = "Node", x = "X", y = "Y", z = "Z" }}
[input.elements]
file = "{K}shells.csv"
[input.elements.columns]
element = "Shell"
property = "Property"
group = "Group"
n1 = "Node 1"
n2 = "Node 2"
n3 = "Node 3"
n4 = "Node 4"
[input.axes]
file = "{K}axes.csv"
columns = {{ element = "Shell", xx = "1X", xy = "1Y", xz = "1Z", zx = "3X", zy = "3Y", zz = "3Z" }}
[input.properties]
file = "{K}properties.csv"
columns = {{ property = "Property", thickness = "Thickness" }}
[input.resultants]
file = "{K}shell_forces.csv.gz"
[input.resultants.columns]
case = "Load case"
element = "Shell"
node = "Node"
nx = "n_a"
ny = "n_b"
nxy = "n_ab"
mx = "m_a"
my = "m_b"
mxy = "m_ab"
vx = "q_a"
vy = "q_b"
[input.reactions]
file = "{K}reactions.csv"
columns = {{ case = "Load case", node = "Node", fx = "F1", fy = "F2", fz = "F3", mx = "M1", my = "M2", mz = "M3" }}
[input.case_names]
"Eigengewicht Wand" = "SW"
"Erddruck (Ruhedruck)" = "EP"
"Wasserdruck innen" = "WP"
"Überlast Straße 10 kPa" = "SUR"
"Dachauflast \u2013 ständig" = "VL"
"Schub in Längsrichtung +x" = "HX"
"""
MESH_FILE = f"""
title = "Pump wall as a mesh file"
[input]
mesh = "{WALL}/formats/pump_wall.vtu"
reactions = "{WALL}/plain/reactions.csv"
[input.signs]
positive_moment_tension = "top"
"""
BOOK = f"{WALL}/formats/pump_wall.xlsx"
WORKBOOK = f"""
title = "Pump wall as a workbook"
[input.nodes]
file = "{BOOK}"
sheets = ["Nodes"]
columns = {{ node = "id", x = "x [m]", y = "y [m]", z = "z [m]" }}
[input.elements]
file = "{BOOK}"
sheets = ["Elements"]
columns = {{ element = "id", thickness = "thickness [m]" }}
[input.axes]
file = "{BOOK}"
sheets = ["Elements"]
columns = {{ element = "id" }}
[input.resultants]
file = "{BOOK}"
case_from = "sheet"
[input.reactions]
file = "{WALL}/plain/reactions.csv"
[input.signs]
positive_moment_tension = "top"
"""


def write_wall(folder, source=PLAIN, zone=ZONE, combinations=COMBINATIONS):
    """Job file of one export; returns its path."""
    folder.mkdir(exist_ok=True)
    (folder / "job.toml").write_text(source + zone + combinations)
    return folder / "job.toml"
