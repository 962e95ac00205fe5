import type { Design } from '../design/schema';
import { topologyOf } from '../design/topologyOf';
import type { Figures } from '../evaluation/figures';
import { regulatorOf } from '../evaluation/postRegulator';
import { printQuantity as print, printTyped } from '../quantity';
import { SYMBOLS, type DrawnSymbol, type Stroke } from '../topology';
import { escaped } from './escaped';

/** The converter from line to load as an SVG picture: wires, symbols after IEC 60617, names and values. */
export function schematic(d: Design, f: Figures): string {
  const { drawing } = topologyOf(d)!;
  const wires = drawing.wires.map(({ points }) => `<path d="M${points.map((p) => p.join(' ')).join('L')}"/>`).join('');
  const dots = drawing.dots.map(([x, y]) => `<circle cx="${x}" cy="${y}" r="3" fill="currentColor" stroke="none"/>`).join('');
  const symbols = drawing.symbols.map((s) => `<g transform="translate(${s.x} ${s.y}) rotate(${-90 * s.turn})">${SYMBOLS[s.symbol].map(stroke).join('')}</g>${label(s, d, f)}`).join('');
  return `<svg xmlns="http://www.w3.org/2000/svg" role="img" viewBox="-14 -34 ${drawing.width + 120} ${drawing.height + 66}" width="${drawing.width + 120}" fill="none" stroke="currentColor" stroke-width="2" stroke-linecap="round" stroke-linejoin="round"><title>${escaped(topologyOf(d)!.title)}</title>${wires}${dots}${symbols}</svg>`;
}

function stroke({ path, rect, circle, covers, outline, width, mirrored, butt }: Stroke): string {
  const look = `${covers ? ' fill="#fff"' : ''}${covers && outline !== 'always' ? ' stroke="none"' : ''}${width === undefined ? '' : ` stroke-width="${width}"`}${mirrored ? ' transform="scale(-1 1)"' : ''}${butt ? ' stroke-linecap="butt"' : ''}`;
  if (rect) return `<rect x="${rect[0]}" y="${rect[1]}" width="${rect[2]}" height="${rect[3]}" rx="${rect[4] ?? 0}"${look}/>`;
  return circle === undefined ? `<path d="${path}"${look}/>` : `<circle r="${circle}"${look}/>`;
}

/** Name and value of a symbol, beside it or under it. */
function label(s: DrawnSymbol, d: Design, f: Figures): string {
  if (s.label === 'none') return '';
  const said = valueOf(s, d, f);
  const beside = s.label === 'right' || s.label === 'left' || s.symbol === 'transformer';
  const [x, anchor] = s.label === 'left' ? [s.x - 25, 'end'] : beside ? [s.x + (s.symbol === 'transformer' ? 34 : 25), 'start'] : s.label === 'above' ? [s.x + 40, 'start'] : [s.x, 'middle'];
  const y = s.label === 'above' ? s.y - 8 : beside ? s.y : s.y + 34;
  return `<g fill="currentColor" stroke="none" font-size="11" text-anchor="${anchor}"><text x="${x}" y="${y}" font-weight="600">${escaped(s.id)}</text>${said === '' ? '' : s.label === 'above' ? `<text x="${x + 7 * s.id.length + 6}" y="${y}" fill="#666">${escaped(said)}</text>` : `<text x="${x}" y="${y + 13}" fill="#666">${escaped(said)}</text>`}</g>`;
}

function valueOf(s: DrawnSymbol, d: Design, { sizing, point }: Figures): string {
  const slot = s.slot ?? s.id;
  const part = d.parts[slot];
  if (s.symbol === 'source' || s.symbol === 'mains') return printTyped(point.line, 'V', 3);
  if (s.symbol === 'load') return d.brief.further?.length && s.id !== 'load' ? '' : printTyped(point.load, 'A', 3);
  if (s.symbol === 'regulator') return print(regulatorOf(d)!.regulator.voltage, 'V');
  const sized = sizing.values[slot];
  if (part?.kind === 'capacitor') return `${sized && sized.count !== 1 ? `${sized.count}×` : ''}${print(part.capacitance, 'F', 2)}`;
  if (part?.kind === 'switch' || part?.kind === 'diode') return print(part.blockingVoltage, 'V', 2);
  return part?.kind === 'inductor' && sized ? print(sized.taken, 'H') : '';
}
