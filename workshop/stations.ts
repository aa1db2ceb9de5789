/** Keys and forms of lines, with what each does. */
export type Keys = readonly (readonly [keys: string, does: string])[];

export interface Station {
  name: string;
  address: string;
  /** Where a screen of it lies beside that, with keys of its own. */
  also?: { address: string; keys: Keys };
  /** What the number beside its name counts. */
  waits: { one: string; many: string };
  /** Every form that its bar understands. Codes and units are read in any case, decimal commas as points. */
  keys: Keys;
}

/** Every station of the bench, in working order. */
export const stations = {
  intake: {
    name: 'Intake',
    address: '/intake',
    waits: { one: 'cell or pack to look at', many: 'cells and packs to look at' },
    keys: [
      ['3.712', 'voltage of the cell shown, then 45.2 its weight in g; 3712 mV and 3V71 will do'],
      ['3.712 45.2 ok', 'all three in one line'],
      ['ok', 'inspected, nothing found'],
      ['31.5C', 'how warm it is, measured on its skin'],
      [
        's l d h m r w f i',
        'swollen, leaking, dented, warm, smells, rust, wrap, fell, in water: together, or tap them',
      ],
      ['-', 'leave this cell for later'],
      ['S1-014', 'go to that cell, for one filing'],
      ['S1-014 45.2 g', 'file for that cell'],
      ['S1-004+005', 'the two are welded together; with figures behind it both are read as one'],
    ],
  },
  instruments: {
    name: 'Instruments',
    address: '/instruments',
    waits: { one: 'channel known to be wrong and not corrected', many: 'channels known to be wrong and not corrected' },
    keys: [
      ['DM1 3.712', 'what an instrument shows on the battery at hand'],
      ['CK1 3.71 3.70 …', 'one voltage for each channel; CK1.2 3.70 for channel 2 alone'],
      ['B2', 'to the second battery; B2 DM1 3.712 files for it'],
      ['S1-014, PF1', 'on the list of instruments: open that cell or pack'],
    ],
  },
  resistance: {
    name: 'Resistance',
    address: '/resistance',
    waits: { one: 'cell or pack to measure', many: 'cells and packs to measure' },
    keys: [
      ['21.4', 'a resistance in mΩ; 43.5m, 0.0435 and 43,5 mΩ are the same'],
      ['21.4 4.15', 'with the voltage that the meter shows'],
      ['4.03 3.91', 'open and loaded voltage'],
      ['4.03 3.91 1.74', 'with an ammeter: the current third'],
      ['… 4.01', 'last the recovery voltage, to correct the droop'],
      ['4.01 3.89 1.74 4.00', 'preloaded step: preloaded, loaded, current, recovery voltage'],
      ['3.98 0.5 3.87 2.5', 'two currents: voltage and current low, voltage and current high'],
      ['… 21.5C', 'the temperature, anywhere with its unit'],
      ['S1-014', 'go to that cell, for one filing'],
      ['S1-014 4.03 3.91', 'file for that cell; of welded ones either code, or S1-004+005'],
    ],
  },
  capacity: {
    name: 'Capacity',
    address: '/capacity',
    waits: { one: 'cell or pack to discharge', many: 'cells and packs to discharge' },
    keys: [['S1-014, PF1', 'open that cell or pack']],
  },
  selfDischarge: {
    name: 'Self-discharge',
    address: '/self-discharge',
    waits: {
      one: 'cell or pack to read in a self-discharge test',
      many: 'cells and packs to read in a self-discharge test',
    },
    keys: [
      ['4.143', 'in a self-discharge test: the voltage of the cell shown'],
      ['4.14 4.13 4.15', 'of a pack its groups from the negative terminal'],
      ['S1-014 4.143', 'file for that cell or pack'],
      ['S1-014, PF1', 'on the list of self-discharge tests: open that cell or pack'],
    ],
  },
  shelf: {
    name: 'Shelf',
    address: '/shelf',
    also: {
      address: '/cells',
      keys: [
        ['S1-014, PF1', 'open that cell or pack'],
        ['Alt V', 'its voltage and weight'],
        ['Alt R, Alt C', 'its resistance; import a discharge of it'],
        ['Alt H, Alt G', 'put it to rest for a self-discharge test; a charger sheet'],
        ['Alt N', 'note something of it'],
      ],
    },
    waits: { one: 'graded cell or pack', many: 'graded cells and packs' },
    keys: [
      ['light', 'only these: surge, steady, light, retire, rescue, out, ungraded'],
      ['packs > 80 % 4s', 'packs or cells, a health, so many in series (4s) or in parallel (2p), a chemistry (lipo)'],
      ['S1 > 2 Ah < 60 mΩ', 'a batch, and limits of capacity and resistance, in any order'],
      ['"blue pack"', 'with these words in a note'],
      ['S1-014, PF1', 'open that cell or pack'],
    ],
  },
  builds: {
    name: 'Builds',
    address: '/builds',
    waits: { one: 'saved build', many: 'saved builds' },
    keys: [
      ['4s3p', 'a new match, 4 in series and 3 in parallel; 4x3 will do'],
      ['4s3p without G1-013', 'leaving out one cell or several'],
      [
        '7s 10A 40min 3.0V',
        'which shapes carry the load for that time, no group below; 200W for watts, 6-8s for a span',
      ],
      ['arrow keys', 'walk among the cells of a match; Enter picks one, Enter on another changes them'],
      ['Esc', 'lets go of a cell that was picked'],
      ['Ctrl Z', 'takes back the last change of two cells'],
    ],
  },
  clinic: {
    name: 'Clinic',
    address: '/clinic',
    waits: { one: 'pack that needs attention', many: 'packs that need attention' },
    keys: [
      ['3.95 3.94 3.96', 'group voltages from the negative terminal; a dash for one that cannot be read'],
      ['… 5A 21C', 'under that load; at that temperature'],
      ['… = 11.85', 'with the voltage at the terminals'],
      ['PF1', 'open that pack'],
      ['cycles 34, served 7 min', 'its cycles so far; for how long it served'],
      ['PF1 3.95 …', 'file for that pack'],
      ['"blue lid"', 'packs with these words in a note'],
      ['Alt V, Alt R, Alt C', 'of the pack shown: its groups, its resistance, import a discharge'],
      ['Alt H, Alt P, Alt N', 'of the pack shown: a self-discharge test, history and use, a note'],
      ['Alt G, Alt X', 'of the pack shown: a charger sheet; retire it'],
    ],
  },
  upkeep: {
    name: 'Upkeep',
    address: '/upkeep',
    waits: { one: 'thing that is due', many: 'things that are due' },
    also: { address: '/retire', keys: [['PF1', 'open that pack']] },
    keys: [
      ['PF1 3.82 3.83 …', 'the monthly check: the groups of that pack from the negative terminal'],
      ['PF1', 'open that pack'],
      ['PF1 out, PF1 out 12A walk', 'it is taken out, at so much current, for that'],
      ['PF1 back 3.71 3.70 3.69', 'it came back: its groups after use; with 8min, 1.9Ah, lowest 3.31'],
      ['Alt N', 'on the bench plan: made again from now'],
    ],
  },
} as const satisfies Record<string, Station>;

export type StationKey = keyof typeof stations;
export const stationKeys = Object.keys(stations) as StationKey[];

/** The station that a screen belongs to, with the keys of that screen; null for those behind the quiet menu. */
export function stationAt(path: string): Station | null {
  for (const key of stationKeys) {
    const station: Station = stations[key];
    if (path.startsWith(station.address)) return station;
    if (station.also && path.startsWith(station.also.address)) return { ...station, keys: station.also.keys };
  }
  return null;
}
