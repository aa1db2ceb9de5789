import { chemistries } from '../chemistry/chemistries';
import type { Rechargeable } from '../chemistry/openCircuit';
import { permission } from '../state/permissions';
import type { GroupState, SubjectState } from '../state/subjectState';
import { mistakenFor } from './identify';
import { type ChargerLimits, goalActs, type SheetInput, type SheetGoal, type SheetRefusal } from './sheet';

/** Up to this many in series are run flat with a lamp. Common practice. */
const mostRunDown = 4;

/** Why there is no sheet, before any current is looked at; null where nothing speaks against it. */
export function refusalOf(request: SheetInput): SheetRefusal | null {
  const { state, measured, goal, rules } = request;
  const { chemistry, series } = state;
  if (chemistry === 'alkaline') return { code: 'primary-cell' };
  const mistaken = mistakenFor({ chemistry, series, ...measured });
  if (mistaken) return mistaken;
  const allowed = permission(state, goalActs[goal], rules);
  if (!allowed.allowed) return allowed.because[0] ?? { code: 'measure-first' };
  return againstCharger(request, chemistry) ?? againstGoal(state, goal) ?? againstWanted(request);
}

/** By which mode it is charged: that with its end, or for its family. A pouch mode serves a cylinder of that end. */
export const modeOf = (chemistry: Rechargeable): string => {
  const { family, fullV } = chemistries[chemistry];
  return family === 'lithium' ? fullV.toFixed(2) : family;
};

/** Whether the charger balances the groups of this pack, all of them. */
export const canBalance = (
  { bleedA, balanceChannels }: Pick<ChargerLimits, 'bleedA' | 'balanceChannels'>,
  { series, chemistry, connector }: Pick<SubjectState, 'series' | 'chemistry' | 'connector'>,
): boolean =>
  bleedA > 0 &&
  chemistries[chemistry].family === 'lithium' &&
  series > 1 &&
  connector !== 'none' &&
  series <= (balanceChannels ?? series);

/** Of the whole at rest, V; null where a group's is not known. */
export function packVoltage(groups: readonly GroupState[]): number | null {
  const volts = groups.flatMap(({ restV }) => (restV ? [restV.value] : []));
  return volts.length === groups.length ? volts.reduce((sum, v) => sum + v, 0) : null;
}

/** Whether the charger recognises the pack and has the mode. */
function againstCharger({ state, measured, charger, goal }: SheetInput, chemistry: Rechargeable): SheetRefusal | null {
  const { modes, bleedA, balanceChannels, lowestPackV } = charger;
  const { series, connector } = state;
  const needs = modeOf(chemistry);
  if (goal !== 'discharge' && goal !== 'run-down' && modes && !modes.includes(needs)) return { code: 'no-mode', needs };
  const packV = measured.measuredV ?? packVoltage(state.groups);
  if (goal !== 'rescue' && packV !== null && lowestPackV != null && packV < lowestPackV)
    return { code: 'charger-blind', packV, lowestPackV };
  if (goal !== 'balance') return null;
  if (balanceChannels != null && series > balanceChannels)
    return { code: 'too-few-channels', channels: balanceChannels, series };
  if (connector === 'none') return { code: 'not-watched' };
  return bleedA > 0 ? null : { code: 'does-not-balance' };
}

function againstGoal(
  { chemistry, series, imbalance, isGroupsRead, connector }: SubjectState,
  goal: SheetGoal,
): SheetRefusal | null {
  const { family } = chemistries[chemistry];
  if (goal === 'cycle' && family === 'lead') return { code: 'cycling-harms' };
  if (goal === 'run-down' && (family === 'lead' || (family === 'lithium' && series > mostRunDown)))
    return { code: 'run-down-elsewhere' };
  const areWanted = connector === 'balance' || imbalance?.isLarge === true;
  const isMoved = family === 'lithium' && series > 1 && goal !== 'run-down';
  return isMoved && areWanted && !isGroupsRead ? { code: 'measure-first' } : null;
}

/** A wanted end lies within the limits of the chemistry and the house. */
function againstWanted({ state, goal, wanted }: SheetInput): SheetRefusal | null {
  const { cutoffPerGroupV } = wanted;
  const { floorV, endV } = state.limits;
  if (cutoffPerGroupV === null || goal === 'run-down' || goal === 'rescue') return null;
  return cutoffPerGroupV < floorV || cutoffPerGroupV > endV
    ? { code: 'end-beyond-limits', perGroupV: cutoffPerGroupV, fromV: floorV, toV: endV }
    : null;
}
