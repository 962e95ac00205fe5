import type { DrawnSymbol } from './types';

/** One stroke or outline of a symbol. */
export interface Stroke {
  /** An SVG path, a rectangle (x, y, width, height, radius) or a circle (radius) */
  path?: string;
  rect?: readonly [number, number, number, number, number?];
  circle?: number;
  /** Filled with what is behind it, so that the wire is covered; and drawn round, always or where it is chosen */
  covers?: true;
  outline?: 'always' | 'chosen';
  width?: number;
  mirrored?: true;
  butt?: true;
}

const WINDING = 'M0 -32A8 8 0 0 1 0 -16A8 8 0 0 1 0 0A8 8 0 0 1 0 16A8 8 0 0 1 0 32';
const SIDE = 'M20 -32A8 8 0 0 0 20 -16A8 8 0 0 0 20 0A8 8 0 0 0 20 16A8 8 0 0 0 20 32';

/**
 * Symbols after IEC 60617, drawn along the vertical, centred on the origin. A switch is drawn as the make contact of 07-02-01 in an
 * outline. Strokes are 2 wide unless they say otherwise.
 */
export const SYMBOLS: Readonly<Record<DrawnSymbol['symbol'], readonly Stroke[]>> = {
  source: [{ rect: [-14, -7, 28, 14], covers: true }, { path: 'M-14 -5H14' }, { path: 'M-7 5H7', width: 4, butt: true }],
  capacitor: [{ rect: [-13, -5, 26, 10], covers: true }, { path: 'M-13 -5H13M-13 5H13', width: 2.6 }],
  inductor: [{ rect: [-8, -32, 16, 64, 4], covers: true, outline: 'chosen' }, { path: WINDING }],
  transformer: [{ rect: [-30, -32, 60, 64, 4], covers: true, outline: 'chosen' }, { path: SIDE }, { path: SIDE, mirrored: true }, { path: 'M-3 -30V30M3 -30V30', width: 1.4 }],
  switch: [{ rect: [-16, -18, 32, 36, 6], covers: true, outline: 'always' }, { path: 'M0 -18V-9M0 18V9M0 9L-9 -9' }],
  diode: [{ rect: [-11, -9, 22, 18], covers: true }, { path: 'M0 14V-14M-10 8L10 8L0 -8Z', covers: true, outline: 'always' }, { path: 'M-10 -8H10', width: 2.4 }],
  mains: [{ circle: 14, covers: true, outline: 'always' }, { path: 'M-8 0C-5 -8 -2 -8 0 0S5 8 8 0' }],
  rectifier: [{ rect: [-22, -64, 44, 128], covers: true, outline: 'always' }, { path: 'M-22 64L22 -64', width: 1.4 }, { path: 'M-16 -42C-13 -48 -11 -48 -9 -42S-5 -36 -2 -42M4 40H16M4 46H16', width: 1.8 }],
  // A block with three connections; its lower one goes down to the return.
  regulator: [{ rect: [-26, -16, 52, 32], covers: true, outline: 'always' }, { path: 'M-15 6V-5H15V6M-15 -5L-11 -1M-15 -5L-11 -9', width: 1.4 }],
  load: [{ rect: [-9, -26, 18, 52], covers: true, outline: 'always' }],
};
