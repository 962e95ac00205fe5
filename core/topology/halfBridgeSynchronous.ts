import { halfBridge } from './halfBridge';

/** Half bridge with switches behind the transformer: for outputs of which a diode's drop would take too much. */
export const halfBridgeSynchronous = halfBridge({ id: 'half-bridge-synchronous', title: 'Half bridge, synchronous', rectifier: 'switch' });
