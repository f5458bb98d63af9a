#!/bin/bash
# Makes the drawings beside it anew: one plate, a rectangle of 80 x 50 with a circle of radius 15 in its middle (30 mm
# across), as twenty ways of general drawing programs from Debian write it. The results are kept, so that the tests need
# none of these programs.
#
#   apt-get install --no-install-recommends gnuplot-nox pstoedit fig2dev graphviz potrace python3-matplotlib openscad \
#     plotutils asymptote python3-ezdxf ipe ghostscript
set -euo pipefail
cd "$(dirname "$0")"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT

# PostScript, 1 unit = 1 mm.
cat > "$work/plate.eps" <<'PS'
%!PS-Adobe-3.0 EPSF-3.0
%%BoundingBox: 0 0 284 199
72 25.4 div dup scale 0.1 setlinewidth
newpath 10 10 moveto 80 0 rlineto 0 50 rlineto -80 0 rlineto closepath stroke
newpath 50 35 15 0 360 arc closepath stroke
showpage
%%EOF
PS
for way in dxf dxf_14; do pstoedit -q -f "$way:-mm" "$work/plate.eps" "pstoedit-$way.dxf"; done
pstoedit -q -f "dxf:-mm -polyaslines" "$work/plate.eps" pstoedit-lines.dxf
pstoedit -q -f plot-svg "$work/plate.eps" pstoedit-plot.svg
pstoedit -q -f fig "$work/plate.eps" "$work/plate.fig"
fig2dev -L svg "$work/plate.fig" fig2dev.svg

cat > "$work/plate.scad" <<'SCAD'
difference() { translate([10, 10]) square([80, 50]); translate([50, 35]) circle(r = 15, $fn = 180); }
SCAD
for kind in dxf svg; do openscad -q -o "openscad.$kind" "$work/plate.scad"; done

gnuplot <<'GP'
set terminal svg size 800,800; set output "gnuplot.svg"
unset border; unset tics; unset key; set parametric; set size square; set margins 0,0,0,0
set xrange [0:100]; set yrange [0:100]; set samples 721
set object 1 polygon from 10,10 to 90,10 to 90,60 to 10,60 to 10,10 fillstyle empty border lc black
plot [0:2*pi] 50+15*cos(t), 35+15*sin(t) with lines lc black
GP
gnuplot <<'GP'
set terminal dxf; set output "gnuplot.dxf"
unset border; unset tics; unset key; set parametric; set size ratio -1
set xrange [0:100]; set yrange [0:66.67]; set samples 721
set arrow 1 from 10,10 to 90,10 nohead; set arrow 2 from 90,10 to 90,60 nohead
set arrow 3 from 90,60 to 10,60 nohead; set arrow 4 from 10,60 to 10,10 nohead
plot [0:2*pi] 50+15*cos(t), 35+15*sin(t) with lines
GP

printf '%s\n' 'graph plate { graph [pad=0]; node [label="" fixedsize=true pin=true];' \
  'a [shape=box width=3.1496063 height=1.9685039 pos="141.732,99.2126"];' \
  'b [shape=circle width=1.1811024 height=1.1811024 pos="141.732,99.2126"]; }' | neato -n -Tsvg > graphviz.svg

/usr/bin/python3 - <<'PY'
import matplotlib
matplotlib.use("svg")
matplotlib.rcParams["svg.hashsalt"] = "plate"
import matplotlib.pyplot as plt
from matplotlib.patches import Circle, Rectangle
figure = plt.figure(figsize=(100 / 25.4, 70 / 25.4))
axes = figure.add_axes([0, 0, 1, 1])
axes.set_xlim(0, 100), axes.set_ylim(0, 70), axes.axis("off")
axes.add_patch(Rectangle((10, 10), 80, 50, fill=False))
axes.add_patch(Circle((50, 35), 15, fill=False))
figure.savefig("matplotlib.svg", metadata={"Date": None})

import ezdxf
for version in ("R12", "R2000", "R2007", "R2018"):
    drawing = ezdxf.new(version, units=4)
    space = drawing.modelspace()
    corners = [(10, 10), (90, 10), (90, 60), (10, 60)]
    if version == "R12":
        space.add_polyline2d(corners, close=True)
    else:
        space.add_lwpolyline(corners, close=True)
    if version in ("R12", "R2000"):
        space.add_circle((50, 35), 15)
    elif version == "R2007":
        space.add_ellipse((50, 35), major_axis=(15, 0), ratio=1)
    else:
        block = drawing.blocks.new("hole")
        block.add_lwpolyline([(-15, 0, 1), (15, 0, 1)], format="xyb", close=True)
        space.add_blockref("hole", (50, 35))
    drawing.saveas(f"ezdxf-{version}.dxf")
PY

cat > "$work/plate.asy" <<'ASY'
settings.outformat = "eps"; unitsize(1mm);
draw((10, 10) -- (90, 10) -- (90, 60) -- (10, 60) -- cycle); draw(circle((50, 35), 15));
ASY
(cd "$work" && asy -o asy plate.asy) 2> /dev/null && pstoedit -q -f "dxf_s:-mm -splineasbezier" "$work/asy.eps" asymptote.dxf

/usr/bin/python3 - "$work/plate.pbm" <<'PY'
import sys
rows = []
for y in range(700):
    rows.append(" ".join("1" if 100 <= x < 900 and 100 <= y < 600 and (x + 0.5 - 500) ** 2 + (y + 0.5 - 350) ** 2 > 150 ** 2
                         else "0" for x in range(1000)))
open(sys.argv[1], "w").write("P1\n1000 700\n" + "\n".join(rows) + "\n")
PY
potrace -b svg -r 254 -o potrace.svg "$work/plate.pbm"
potrace -b dxf -r 254 -o potrace.dxf "$work/plate.pbm"

cat > "$work/plate.ipe" <<'IPE'
<?xml version="1.0"?>
<!DOCTYPE ipe SYSTEM "ipe.dtd">
<ipe version="70218" creator="make.sh"><ipestyle name="plain"><layout paper="283.4646 198.4252" origin="0 0" frame="283.4646 198.4252"/></ipestyle><page><layer name="plate"/><view layers="plate" active="plate"/>
<path layer="plate" stroke="0">
28.34646 28.34646 m 255.11811 28.34646 l 255.11811 170.07874 l 28.34646 170.07874 l h
</path>
<path stroke="0">
42.519685 0 0 42.519685 141.732283 99.212598 e
</path></page></ipe>
IPE
iperender -svg -nocrop "$work/plate.ipe" ipe.svg > /dev/null

printf '.PS\nbox wid 80/25.4 ht 50/25.4 at 4,4\ncircle rad 15/25.4 at 4,4\n.PE\n' | pic2plot -T svg > plotutils.svg
