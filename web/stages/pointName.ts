import { printTyped } from '../../core/quantity';
import type { OperatingPoint } from '../../core/topology';

/** "60 V 8 A": where something happens, short. */
export const pointName = (p: OperatingPoint): string => `${printTyped(p.line, 'V', 3)} ${printTyped(p.load, 'A', 3)}`;
