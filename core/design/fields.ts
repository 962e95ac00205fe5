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
  'brief.output.voltage': { unit: 'V', title: 'output voltage' },
  'brief.load.min': { unit: 'A', title: 'smallest load' },
  'brief.load.max': { unit: 'A', title: 'full load' },
  'brief.loadStep': { unit: 'A', title: 'load step' },
  'brief.loadInductance': { unit: 'H', title: 'inductance of the load' },
  'brief.frequency': { unit: 'Hz', title: 'switching frequency' },
  'brief.air.min': { unit: '°C', title: 'coldest air' },
  'brief.air.max': { unit: '°C', title: 'hottest air' },
  'brief.rippleShare': { unit: '%', title: 'inductor ripple share' },
  'brief.lineRipple': { unit: 'V', title: 'ripple on the line' },
  'requirements.ripple.limit': { unit: 'V', title: 'output ripple' },
  'requirements.deviation.limit': { unit: 'V', title: 'load-step deviation' },
  'requirements.phaseMargin.limit': { unit: '°', title: 'phase margin' },
  'requirements.gainMargin.limit': { unit: 'dB', title: 'gain margin' },
  'requirements.efficiency.limit': { unit: '%', title: 'efficiency at full load' },
  'requirements.junction.limit': { unit: '°C', title: 'hottest junction' },
  'requirements.winding.limit': { unit: '°C', title: 'hottest winding' },
  'requirements.ratings.limit': { unit: '%', title: 'stress of rating' },
  'drive.voltage': { unit: 'V', title: 'drive voltage' },
  'drive.gateResistance': { unit: 'Ω', title: 'gate resistance' },
  'drive.deadTime': { unit: 's', title: 'dead time' },
  'control.crossover': { unit: 'Hz', title: 'wanted crossover' },
  'control.phaseMargin': { unit: '°', title: 'wanted phase margin' },
  'control.integrator': { unit: 'Hz', title: 'integrator' },
  'control.zero1': { unit: 'Hz', title: 'first zero' },
  'control.zero2': { unit: 'Hz', title: 'second zero' },
  'control.pole1': { unit: 'Hz', title: 'first pole' },
  'control.pole2': { unit: 'Hz', title: 'second pole' },
  'control.ramp': { unit: 'V', title: 'ramp amplitude' },
  'control.delay': { unit: 's', title: 'delay to the switch' },
  'control.reference': { unit: 'V', title: 'reference' },
  'control.inputResistor': { unit: 'Ω', title: 'network R1' },
  'sink.thermalResistance': { unit: 'K/W', title: 'sink to air' },
  'parts.*.count': { unit: '', title: 'parts in parallel' },
  'parts.*.blockingVoltage': { unit: 'V', title: 'blocking voltage' },
  'parts.*.onResistance': { unit: 'Ω', title: 'on-resistance at 25 °C' },
  'parts.*.onResistanceRise': { unit: '1/K', title: 'rise of the on-resistance' },
  'parts.*.gateCharge': { unit: 'C', title: 'gate charge' },
  'parts.*.switchingCharge': { unit: 'C', title: 'switching charge' },
  'parts.*.plateauVoltage': { unit: 'V', title: 'plateau voltage' },
  'parts.*.outputCapacitance': { unit: 'F', title: 'output capacitance' },
  'parts.*.recoveryCharge': { unit: 'C', title: 'recovery charge' },
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
  'parts.*.capacitance': { unit: 'F', title: 'capacitance of one' },
  'parts.*.esr': { unit: 'Ω', title: 'series resistance of one' },
  'parts.*.ratedVoltage': { unit: 'V', title: 'voltage rating' },
  'parts.*.ratedCurrent': { unit: 'A', title: 'ripple current rating of one' },
};

/** The field at a path, or undefined when the path holds no quantity. */
export const fieldAt = (path: string): Field | undefined => FIELDS[path] ?? FIELDS[path.replace(/^parts\.[^.]+\./, 'parts.*.')];
