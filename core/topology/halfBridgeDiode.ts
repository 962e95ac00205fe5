import { halfBridge } from './halfBridge';

/** Half bridge with diodes behind the transformer. */
export const halfBridgeDiode = halfBridge({ id: 'half-bridge', title: 'Half bridge', rectifier: 'diode' });
