import { csvFormatRows } from 'd3-dsv';
import type { CornerReport } from '../corners/corners';
import { requirementNamed } from '../corners/requirements';
import { topologyOf } from '../design/topologyOf';
import type { Design } from '../design/schema';
import type { Figures } from '../evaluation/figures';

/** Numbers of a design at a point as CSV (RFC 4180), SI units, each column named with its own. */

/** The waveforms of the settled cycle; empty where there are none. */
export function wavesCsv(d: Design, { detail }: Figures): string {
  if (!detail) return '';
  const { ids, units, time, values } = detail.waves;
  const title = (id: string): string => topologyOf(d)!.signals.find((s) => s.id === id)?.title ?? id;
  return `${csvFormatRows([['time (s)', ...ids.map((id, k) => `${title(id)} (${units[k]})`)], ...Array.from(time, (t, i) => [String(t), ...values.map((v) => String(v[i]))])])}\n`;
}

/** Gain and phase of loop, plant and compensator; empty where there is no loop. */
export function loopCsv({ detail }: Figures): string {
  const bode = detail?.bode;
  if (!bode) return '';
  const curves = [bode.loop, bode.plant, bode.compensator];
  return `${csvFormatRows([['frequency (Hz)', ...['loop', 'plant', 'compensator'].flatMap((n) => [`${n} gain (dB)`, `${n} phase (°)`])], ...Array.from(bode.loop.frequency, (f, i) => [String(f), ...curves.flatMap((c) => [String(c.gain[i] ?? ''), String(c.phase[i] ?? '')])])])}\n`;
}

/** Every requirement at every corner. */
export function cornersCsv({ corners }: CornerReport): string {
  const rows = corners.flatMap((c) => c.requirements.map((r) => [String(c.point.line), String(c.point.load), String(c.point.air), r.id, requirementNamed(r.id).unit, String(r.value), String(r.limit), r.holds ? 'holds' : 'fails']));
  return `${csvFormatRows([['line (V)', 'load (A)', 'air (°C)', 'requirement', 'unit', 'value', 'limit', 'verdict'], ...rows])}\n`;
}
