import { SETTINGS } from '../control';
import type { UnitName } from '../quantity';

/**
 * What every number of a design measures, by its path; "*" stands for any place or requirement.
 * Files may hold quantities as text ("22 µH"), fields on screen are typed in these units, and
 * errors speak these titles.
 */
export interface Field {
  unit: UnitName;
  title: string;
}

const FIELDS: Record<string, Field> = {
  'brief.line.min': { unit: 'V', title: 'lowest line' },
  'brief.line.max': { unit: 'V', title: 'highest line' },
  'brief.line.mains': { unit: 'Hz', title: 'mains frequency' },
  'brief.lineResistance': { unit: 'Ω', title: 'resistance of the line' },
  'brief.lineInductance': { unit: 'H', title: 'inductance of the line' },
  'brief.output.voltage': { unit: 'V', title: 'output voltage' },
  'brief.load.min': { unit: 'A', title: 'smallest load' },
  'brief.load.max': { unit: 'A', title: 'full load' },
  'brief.loadStep': { unit: 'A', title: 'load step' },
  'brief.loadStepTime': { unit: 's', title: 'time the load step takes' },
  'brief.lineStep': { unit: 'V', title: 'line step' },
  'brief.gainUpTo': { unit: 'Hz', title: 'loop gain asked for up to' },
  'brief.loadThreshold': { unit: 'V', title: 'threshold of the load' },
  'brief.loadInductance': { unit: 'H', title: 'inductance of the load' },
  'brief.frequency': { unit: 'Hz', title: 'switching frequency' },
  'brief.frequencyRange.min': { unit: 'Hz', title: 'lowest switching frequency' },
  'brief.frequencyRange.max': { unit: 'Hz', title: 'highest switching frequency' },
  'brief.air.min': { unit: '°C', title: 'coldest air' },
  'brief.air.max': { unit: '°C', title: 'hottest air' },
  'brief.rippleShare': { unit: '%', title: 'inductor ripple share' },
  'brief.lineRipple': { unit: 'V', title: 'ripple on the line' },
  'requirements.ripple.limit': { unit: 'V', title: 'output ripple' },
  'requirements.deviation.limit': { unit: 'V', title: 'load-step deviation' },
  'requirements.lineDeviation.limit': { unit: 'V', title: 'line-step deviation' },
  'requirements.lowGain.limit': { unit: 'dB', title: 'loop gain at low frequencies' },
  'requirements.impedance.limit': { unit: '%', title: 'output impedance of its mask' },
  'requirements.pinned.limit': { unit: '%', title: 'required in time, of its limit' },
  'requirements.height.limit': { unit: 'm', title: 'height of the tallest part' },
  'requirements.phaseMargin.limit': { unit: '°', title: 'phase margin' },
  'requirements.gainMargin.limit': { unit: 'dB', title: 'gain margin' },
  'requirements.efficiency.limit': { unit: '%', title: 'efficiency at full load' },
  'requirements.junction.limit': { unit: '°C', title: 'hottest junction' },
  'requirements.winding.limit': { unit: '°C', title: 'hottest winding' },
  'requirements.ratings.limit': { unit: '%', title: 'stress of rating' },
  'drive.voltage': { unit: 'V', title: 'drive voltage' },
  'drive.gateResistance': { unit: 'Ω', title: 'gate resistance' },
  'drive.turnOffResistance': { unit: 'Ω', title: 'turn-off gate resistance' },
  'drive.deadTime': { unit: 's', title: 'dead time' },
  'control.crossover': { unit: 'Hz', title: 'wanted crossover' },
  'control.phaseMargin': { unit: '°', title: 'wanted phase margin' },
  'control.ramp': { unit: 'V', title: 'ramp amplitude' },
  'control.delay': { unit: 's', title: 'delay to the switch' },
  'control.reference': { unit: 'V', title: 'reference' },
  'schedules.*.lasts': { unit: 's', title: 'length of the run' },
  'schedules.*.steps.*.at': { unit: 's', title: 'moment of the step' },
  'schedules.*.steps.*.takes': { unit: 's', title: 'time that the step takes' },
  // Of a measured plant alone.
  frequency: { unit: 'Hz', title: 'switching frequency' },
  output: { unit: 'V', title: 'output held' },
  'sink.thermalResistance': { unit: 'K/W', title: 'sink to air' },
  'branches.*.resistance': { unit: 'Ω', title: 'resistance of the branch' },
  'branches.*.stray': { unit: 'H', title: 'inductance of the loop' },
  'brief.further.0.voltage': { unit: 'V', title: 'second output voltage' },
  'brief.further.0.load.min': { unit: 'A', title: 'smallest second load' },
  'brief.further.0.load.max': { unit: 'A', title: 'full second load' },
  'parts.*.halfVoltage': { unit: 'V', title: 'half the capacitance is left at' },
  'parts.*.capacitanceRise': { unit: '1/K', title: 'rise of the capacitance' },
  'parts.*.coldFactor': { unit: '', title: 'resistance at −40 °C over that at 25 °C' },
  'parts.*.lossFactor': { unit: '', title: 'loss factor tan δ' },
  'parts.*.thresholdVoltage': { unit: 'V', title: 'gate threshold' },
  'parts.*.junctionCapacitance0': { unit: 'F', title: 'output capacitance at 0 V' },
  'parts.*.bendVoltage': { unit: 'V', title: 'its bend' },
  'parts.*.height': { unit: 'm', title: 'height' },
  'parts.*.costClass': { unit: '', title: 'cost class' },
  'parts.*.count': { unit: '', title: 'parts in parallel' },
  'parts.*.blockingVoltage': { unit: 'V', title: 'blocking voltage' },
  'parts.*.onResistance': { unit: 'Ω', title: 'on-resistance at 25 °C' },
  'parts.*.onResistanceRise': { unit: '1/K', title: 'rise of the on-resistance' },
  'parts.*.gateCharge': { unit: 'C', title: 'gate charge' },
  'parts.*.switchingCharge': { unit: 'C', title: 'switching charge' },
  'parts.*.plateauVoltage': { unit: 'V', title: 'plateau voltage' },
  'parts.*.outputCapacitance': { unit: 'F', title: 'output capacitance' },
  'parts.*.recoveryCharge': { unit: 'C', title: 'recovery charge' },
  'parts.*.recoveryTime': { unit: 's', title: 'recovery time' },
  'parts.*.balancingResistance': { unit: 'Ω', title: 'balancing resistor beside each' },
  'parts.*.recoveryCurrent': { unit: 'A', title: 'at a current of' },
  'parts.*.bodyDiodeDrop': { unit: 'V', title: 'body diode drop' },
  'parts.*.junctionToCase': { unit: 'K/W', title: 'junction to case' },
  'parts.*.caseToSink': { unit: 'K/W', title: 'case to sink' },
  'parts.*.maxJunction': { unit: '°C', title: 'junction rating' },
  'parts.*.drop': { unit: 'V', title: 'forward drop' },
  'parts.*.slopeResistance': { unit: 'Ω', title: 'slope resistance' },
  'parts.*.junctionCapacitance': { unit: 'F', title: 'junction capacitance' },
  'parts.*.inductance': { unit: 'H', title: 'inductance' },
  'parts.*.resistance': { unit: 'Ω', title: 'winding resistance at 25 °C' },
  'parts.*.primaryTurns': { unit: '', title: 'turns of the primary' },
  'parts.*.secondaryTurns': { unit: '', title: 'turns of the secondary' },
  'parts.*.thirdTurns': { unit: '', title: 'turns of the third winding' },
  'parts.*.permeance': { unit: 'H', title: 'inductance a turn², no gap' },
  'parts.*.leakagePermeance': { unit: 'H', title: 'leakage a turn²' },
  'parts.*.windowArea': { unit: 'm²', title: 'window area' },
  'parts.*.copperShare': { unit: '%', title: 'copper in the window' },
  'parts.*.turnLength': { unit: 'm', title: 'mean turn' },
  'parts.*.turns': { unit: '', title: 'turns' },
  'parts.*.coreArea': { unit: 'm²', title: 'core area' },
  'parts.*.coreVolume': { unit: 'm³', title: 'core volume' },
  'parts.*.maxFluxDensity': { unit: 'T', title: 'full flux density' },
  'parts.*.thermalResistance': { unit: 'K/W', title: 'winding to air' },
  'parts.*.maxTemperature': { unit: '°C', title: 'winding rating' },
  'parts.*.series': { unit: '', title: 'in series in each' },
  'parts.*.capacitance': { unit: 'F', title: 'capacitance of one' },
  'parts.*.esr': { unit: 'Ω', title: 'series resistance of one' },
  'parts.*.ratedVoltage': { unit: 'V', title: 'voltage rating' },
  'parts.*.ratedCurrent': { unit: 'A', title: 'ripple current rating of one' },
};

/** The field at a path, or undefined when the path holds no quantity. */
export function fieldAt(path: string): Field | undefined {
  // Settings of control structures are declared where they are used.
  const key = /^control\.(\w+)$/.exec(path)?.[1];
  if (key !== undefined && Object.hasOwn(SETTINGS, key)) return SETTINGS[key];
  for (const name of [path, path.replace(/^(parts|branches|schedules)\.[^.]+\./, '$1.*.').replace(/^(schedules\.\*\.steps)\.[^.]+\./, '$1.*.')]) if (Object.hasOwn(FIELDS, name)) return FIELDS[name];
  return undefined;
}
