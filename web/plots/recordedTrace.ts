import type { Recording } from '../../core/recording';

/** What draws lines: a canvas, or a path that writes itself down (d3's). */
export interface Pen {
  moveTo(x: number, y: number): void;
  lineTo(x: number, y: number): void;
  closePath(): void;
}

/** A scale of time, or of a quantity, to pixels. */
interface Scale {
  (v: number): number;
  domain(): number[];
  range(): number[];
}

/** Points for each pixel column up to which a trace is drawn point by point; beyond, from least to most of each column */
const DENSE = 3;

/**
 * Draw a quantity of a recording over what the time scale shows: its points where there are few, else least and most of every
 * pixel column, so that no spike is lost. @returns whether it is a band that wants filling
 */
export function drawRecorded(pen: Pen, record: Recording, quantity: number, x: Scale, y: Scale): boolean {
  const [from, until] = x.domain() as [number, number];
  const [left, right] = x.range() as [number, number];
  const columns = Math.max(1, Math.round(right - left));
  const points = record.pointsIn(from, until, DENSE * columns);
  if (points) {
    const { time, values } = points;
    const v = values[quantity]!;
    for (let k = 0; k < time.length; k++) {
      if (k === 0) pen.moveTo(x(time[k]!), y(v[k]!));
      else pen.lineTo(x(time[k]!), y(v[k]!));
    }
    return false;
  }
  const { least, most } = record.columns(quantity, from, until, columns);
  const at = (k: number): number => left + ((k + 0.5) * (right - left)) / columns;
  const there = (k: number): boolean => !Number.isNaN(least[k]!);
  let first = 0;
  while (first < columns && !there(first)) first++;
  let last = columns - 1;
  while (last > first && !there(last)) last--;
  if (first >= columns) return false;
  pen.moveTo(at(first), y(most[first]!));
  for (let k = first + 1; k <= last; k++) if (there(k)) pen.lineTo(at(k), y(most[k]!));
  for (let k = last; k >= first; k--) if (there(k)) pen.lineTo(at(k), y(least[k]!));
  pen.closePath();
  return true;
}
