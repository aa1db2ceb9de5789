#!/usr/bin/env bash
# Renews ngspicePulses.json: two-branch cells under one pulse of current, computed by Debian's ngspice.
# The charge is a large capacitor, so that the pulse costs voltage as a real cell's does. Usage: core/resistance/ngspicePulses.sh
set -euo pipefail
cd "$(dirname "$0")"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT

# name, open voltage, charge as capacitance, ohmic, branch 1 R C, branch 2 R C, amps, pulse seconds
cells=(
  "fresh 3.912 9200 0.0182 0.0061 110 0.0094 1900 2.1 20"
  "worn 3.741 5100 0.0437 0.0188 42 0.0263 820 1.4 40"
  "short 3.655 7400 0.0251 0.0083 75 0.0119 1350 3.3 10"
)
version=$(ngspice --version | grep -o 'ngspice-[0-9.]*' | head -n 1)
{
  printf '{\n  "madeBy": "%s",\n  "cells": [' "$version"
  separator=
  for cell in "${cells[@]}"; do
    read -r name open charge ohmic r1 c1 r2 c2 amps pulse <<<"$cell"
    cat > "$work/cell.cir" <<CIR
two-branch cell, pulse from 10 s on
Ccharge n0 0 $charge IC=$open
R0 n0 n1 $ohmic
R1 n1 n2 $r1
C1 n1 n2 $c1 IC=0
R2 n2 n3 $r2
C2 n2 n3 $c2 IC=0
Iload n3 0 PWL(0 0 10 0 10.000001 $amps $(echo "10 + $pulse" | bc) $amps $(echo "10.000001 + $pulse" | bc) 0 400 0)
.options reltol=1e-5 abstol=1e-9 vntol=1e-8 chgtol=1e-6
.tran 0.05 300 0 0.02 UIC
.control
run
linearize v(n3)
wrdata out.txt v(n3)
.endc
.end
CIR
    # It counts a run steered by .control as none and says so with its exit status.
    (cd "$work" && ngspice -b cell.cir > log 2>&1) || [ -s "$work/out.txt" ]
    # Tenths of a second around the pulse, then every fifth second: time and volts.
    samples=$(awk '{ t = $1; k = int(t * 20 + 0.5); if ((t < 60 && k % 2 == 0) || k % 100 == 0) printf "%s[%.2f,%.7f]", (n++ ? "," : ""), t, $2 }' "$work/out.txt")
    printf '%s\n    { "name": "%s", "openV": %s, "chargeF": %s, "ohmicOhm": %s, "branches": [[%s, %s], [%s, %s]], "amps": %s, "fromS": 10, "pulseS": %s,\n      "samples": [%s] }' \
      "$separator" "$name" "$open" "$charge" "$ohmic" "$r1" "$c1" "$r2" "$c2" "$amps" "$pulse" "$samples"
    separator=,
  done
  printf '\n  ]\n}\n'
} > ngspicePulses.json
