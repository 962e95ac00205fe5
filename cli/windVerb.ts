import type { Command } from 'commander';
import { cornerPoints } from '../core/corners/corners';
import { topologyOf, type Design } from '../core/design';
import { transformerStudy } from '../core/evaluation/transformer';
import { windingStudy, type Judged } from '../core/evaluation/winding';
import { fail } from '../core/problem';
import { printQuantity as print } from '../core/quantity';
import type { OperatingPoint } from '../core/topology';
import { GOODS } from '../shelf';
import { json, open, refuse, say, type Options } from './files';
import { pointOf } from './verbs';
import { table } from './table';

function wind(file: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const point = pointOf(design.value, options);
  if (!point.ok) return refuse(file, point.problem, options);
  const wound = topologyOf(design.value)!.slots.filter((p) => (p.kind === 'inductor' && !p.core) || p.kind === 'transformer').map((p) => p.id);
  const slot = typeof options.part === 'string' ? options.part : wound[0];
  if (slot !== undefined && design.value.parts[slot]?.kind === 'transformer') return windTransformer(file, design.value, slot, point.value, options);
  const missing = slot !== undefined && wound.includes(slot) ? undefined : fail('part', '--part', slot === undefined ? 'it has nothing that is wound' : `"${slot}" is no inductor of its own and no transformer`, `give one of ${wound.join(', ')}`);
  if (missing && !missing.ok) return refuse(file, missing.problem, options);
  const found = windingStudy(design.value, slot!, point.value, GOODS, cornerPoints(design.value));
  if (!found.ok) return refuse(file, found.problem, options);
  const { duty, now, cores, turns } = found.value;
  if (options.json) json({ part: slot, inductance: duty.inductance, peak: duty.peak, rms: duty.rms, now, turns, cores });
  else {
    say(`${slot}: ${print(duty.inductance, 'H')}, ${print(duty.rms, 'A')} rms here, ${print(duty.peak, 'A')} at most\n`);
    const row = (w: Judged): string[] => [w.core.part, w.material.part, String(w.turns), `${w.wire.part ?? print(w.wire.diameter, 'm', 2)}${w.parallel > 1 ? ` × ${w.parallel}` : ''}`, w.gap === undefined ? 'none' : print(w.gap, 'm', 2), print(w.total, 'W'), print(w.hottest, '°C', 3), print(w.left, 'H', 2)];
    say(table(['core', 'material', 'turns', 'wire', 'gap', 'loss', 'at most', 'left'], [...(now ? [row(now)] : []), ...cores.map(row)]));
    if (!now) say(`\nhow it is wound is not known: its copper counts at dc alone`);
    if (cores.length === 0) say('no core of the shelf serves');
  }
  return 0;
}

function windTransformer(file: string, design: Design, slot: string, point: OperatingPoint, options: Options): number {
  const found = transformerStudy(design, slot, point);
  if (!found.ok) return refuse(file, found.problem, options);
  const { windings, winding, stated, leakage, strands, orders, core } = found.value;
  if (options.json) json({ part: slot, stated, winding, windings, core, leakage, strands, orders });
  else {
    say(`${slot}${stated ? '' : ', as is usual: how it is wound is not known, its copper counts at dc alone'}: strands of ${print(winding.strandDiameter, 'm', 2)}, primary and secondary face one another ${winding.interfaces} ×\n`);
    say(table(['winding', 'turns', 'a turn', 'layers', 'rms', 'dc', 'ac'], windings.map((w) => [w.title, String(w.turns), `× ${w.perTurn}`, String(w.layers), print(w.rms, 'A'), print(w.dc, 'W'), print(w.ac, 'W')])));
    say(`\nleakage by this order ${print(leakage.estimated * windings[0]!.turns ** 2, 'H', 2)}, counted ${print(leakage.stated * windings[0]!.turns ** 2, 'H', 2)}\n`);
    say(table(['strands of', 'copper'], strands.map((o) => [print(o.strandDiameter, 'm', 2), print(o.copper, 'W')])));
    say('');
    say(table(['faces', 'copper'], orders.map((o) => [String(o.interfaces), print(o.copper, 'W')])));
  }
  return 0;
}

/** reed wind: how an inductor is wound, and on which cores it could be. */
export function addWindVerb(program: Command, done: (code: number) => void): void {
  program
    .command('wind')
    .summary('cores, turns and wires for what is wound')
    .description('Wind an inductor of a design on every core of the shelf: the material, turns, gap and wire that lose least, held at every corner.\n\nJSON: part, inductance (H), peak (A), rms (A), now, turns[], cores[]: each {core,material,wire,turns,parallel,gap (m),copper,ac,iron,total (W),temperature,hottest (°C),peak (T),left (H),serves}. Of a transformer: part, stated, winding, windings[]: each {title,turns,share,perTurn,layers,resistance (Ω),rms (A),dc,ac (W)}, core (W), leakage {estimated,stated} (H a turn²), strands[], orders[]: each {strandDiameter (m),interfaces,copper (W)}.')
    .argument('<design>', 'design file (JSON)')
    .option('--part <place>', 'which inductor or transformer (default: the first)')
    .option('--line <volts>', 'line (default: middle of the range)')
    .option('--load <amps>', 'load (default: full load)')
    .option('--air <celsius>', 'air temperature in °C')
    .option('--json', 'print JSON in SI units')
    .exitOverride()
    .action((file: string, options: Options) => done(wind(file, options)));
}
