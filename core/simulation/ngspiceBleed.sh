#!/usr/bin/env bash
# Renews ngspiceBleed.json: packs of three groups on a charger with switched bleed resistors, computed by Debian's
# ngspice. A group is a capacitor behind an ohmic part and a branch; the charger a current that gives way as the whole
# or a group meets its end voltage. It pauses charge and bleed for a reading.
# Usage: core/simulation/ngspiceBleed.sh
set -euo pipefail
cd "$(dirname "$0")"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT

# name, amps, bleed ohms, bleed begins at volts, beyond volts, end volts, overshoot volts, seconds; of each group:
# volts at rest, capacity as capacitance, ohmic, branch R, branch C
packs=(
  "one-low 1.2 16.8 4.10 0.006 4.2 0.01 9000 3.62 2600 0.021 0.014 900 3.91 2500 0.023 0.013 950 3.9 2550 0.022 0.015 920"
  "one-high 0.8 21 4.10 0.006 4.2 0.01 9000 3.73 3100 0.031 0.019 700 3.72 3000 0.029 0.021 720 3.96 3050 0.030 0.020 690"
  "uneven 2.0 8.4 4.00 0.010 4.2 0.01 9000 3.42 4200 0.015 0.010 1500 3.81 4000 0.016 0.009 1600 3.64 4100 0.014 0.011 1550"
)
version=$(ngspice --version | grep -o 'ngspice-[0-9.]*' | head -n 1)
{
  printf '{\n  "madeBy": "%s",\n  "packs": [' "$version"
  separator=
  for pack in "${packs[@]}"; do
    read -r name amps bleed from beyond end over seconds v1 c1 o1 r1 b1 v2 c2 o2 r2 b2 v3 c3 o3 r3 b3 <<<"$pack"
    half=$(echo "scale=6; $beyond / 2" | bc)
    mid=$(echo "scale=6; $beyond * 0.75" | bc)
    quarter=$(echo "scale=6; $beyond * 0.25" | bc)
    group() { # number, lower node, volts, farads, ohmic, branch ohms, branch farads
      cat <<CIR
Ccharge$1 q$1 $2 $4 IC=$3
R$1a q$1 m$1 $6
C$1a q$1 m$1 $7 IC=0
R$1o m$1 p$1 $5
B$1v g$1 0 V = V(p$1) - V($2)
B$1o o$1 0 V = V(m$1) - V($2)
R$1w o$1 w$1 1
C$1w w$1 0 1 IC=$3
B$1d d$1 0 V = V(w$1) >= $from ? V(w$1) - min(V(w1), min(V(w2), V(w3))) : 0
S$1 p$1 s$1 d$1 0 bleeding
R$1b s$1 $2 $bleed
CIR
    }
    {
      echo "three groups, a charger with bleed resistors"
      group 1 0 "$v1" "$c1" "$o1" "$r1" "$b1"
      group 2 p1 "$v2" "$c2" "$o2" "$r2" "$b2"
      group 3 p2 "$v3" "$c3" "$o3" "$r3" "$b3"
      cat <<CIR
.model bleeding SW(VT=$mid VH=$quarter RON=0.001 ROFF=1e7)
Bcharge 0 p3 I = $amps * min(1, max(0, 400 * min(($end + $over - max(V(g1), max(V(g2), V(g3)))), $end - V(p3) / 3)))
.options reltol=1e-4 abstol=1e-6 vntol=1e-6 method=gear
.tran 2 $seconds 0 2 UIC
.control
run
linearize v(g1) v(g2) v(g3)
wrdata out.txt v(g1) v(g2) v(g3)
.endc
.end
CIR
    } > "$work/pack.cir"
    # It counts a run steered by .control as none and says so with its exit status.
    (cd "$work" && ngspice -b pack.cir > log 2>&1) || [ -s "$work/out.txt" ]
    samples=$(awk -v every=30 'NR > 1 && NR % every == 1 { printf "%s[%d,%.4f,%.4f,%.4f]", (n++ ? "," : ""), $1 + 0.5, $2, $4, $6 }' "$work/out.txt")
    printf '%s\n    { "name": "%s", "amps": %s, "bleedOhm": %s, "bleedFromV": %s, "beyondV": %s, "endV": %s, "overshootV": %s,\n      "groups": [[%s, %s, %s, %s, %s], [%s, %s, %s, %s, %s], [%s, %s, %s, %s, %s]],\n      "samples": [%s] }' \
      "$separator" "$name" "$amps" "$bleed" "$from" "$beyond" "$end" "$over" \
      "$v1" "$c1" "$o1" "$r1" "$b1" "$v2" "$c2" "$o2" "$r2" "$b2" "$v3" "$c3" "$o3" "$r3" "$b3" "$samples"
    separator=,
  done
  printf '\n  ]\n}\n'
} > ngspiceBleed.json
