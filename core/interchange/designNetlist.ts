import type { Design } from '../design/schema';
import { closedDesign } from '../evaluation/closedDesign';
import { fail, type Result } from '../problem';
import { printQuantity as print } from '../quantity';
import type { OperatingPoint } from '../topology';
import { netlistOf } from './netlist';

/**
 * A design with its loops closed at a point, its parts as warm as the air, as a netlist that begins on its settled cycle.
 * @returns the text; problems of settling and closing it; "netlist" where something of it has no line in such a file
 */
export function designNetlist(d: Design, point: OperatingPoint): Result<string> {
  if (d.brief.line.mains !== undefined) return fail('netlist', 'brief.line', 'on the mains there is no one cycle of the switching to write down', 'take a design on a dc line');
  const closed = closedDesign(d, point);
  if (!closed.ok) return closed;
  const { circuit, cycle, machine } = closed.value;
  return netlistOf(circuit, cycle, (name) => machine.layout.column.get(name), d.name, [`at ${print(point.line, 'V')}, ${print(point.load, 'A')}, its parts at ${print(point.air, '°C')}; begins on its settled cycle`]);
}
