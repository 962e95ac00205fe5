import type { Handle, Network, NetworkPart } from '../../../core/control';
import { printQuantity as print } from '../../../core/quantity';

/** A zero beside a pole, as they stand in pairs; the gain last. */
export function inPairs(handles: readonly Handle[]): Handle[] {
  const of = (kind: Handle['kind']): Handle[] => handles.filter((h) => h.kind === kind);
  const [zeros, poles] = [of('zero'), of('pole')];
  return [...zeros.flatMap((z, k) => [z, ...(poles[k] ? [poles[k]] : [])]), ...poles.slice(zeros.length), ...of('gain')];
}

/** Parts of one unit in a row; those with a title of their own by themselves. */
export function NetworkRows({ network: { parts } }: { network: Network }) {
  const together = (unit: NetworkPart['unit']): [string, string][] => {
    const alike = parts.filter((p) => p.unit === unit && p.title === undefined);
    return alike.length === 0 ? [] : [[alike.map((p) => p.id).join(' '), alike.map((p) => print(p.value, unit, unit === 'F' ? 2 : undefined)).join(' · ')]];
  };
  const rows: [string, string][] = [...together('Ω'), ...together('F'), ...parts.flatMap((p): [string, string][] => (p.title === undefined ? [] : [[p.title, Number.isFinite(p.value) ? print(p.value, p.unit) : 'none']]))];
  return rows.map(([label, text]) => (
    <div key={label} style={{ display: 'flex', justifyContent: 'space-between', gap: 6, padding: 0 }}>
      <span className="muted" style={{ whiteSpace: 'nowrap' }}>{label}</span>
      <span className="mono" style={{ fontSize: 11 }}>{text}</span>
    </div>
  ));
}
