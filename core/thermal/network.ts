/**
 * Thermal networks: nodes from the parts down to the air, each with a thermal resistance to the next.
 * In steady state the heat through a rung is all that enters above it, so temperatures follow by
 * adding up from the air.
 */
export interface ThermalNode {
  id: string;
  title: string;
  /** The part it belongs to, by its slot, and what of it; none of what several share */
  slot?: string;
  spot?: 'junction' | 'case' | 'winding';
  /** Id of the next rung towards the air; "air" for the last */
  towards: string;
  /** K/W to the next */
  resistance: number;
  /** °C that it may reach, where it has a rating */
  limit?: number;
  /** J/K, where the part says */
  capacity?: number;
}

export interface ThermalNodeState extends ThermalNode {
  /** °C */
  temperature: number;
  /** W that flow towards the air through this rung */
  heat: number;
  /** °C of the hottest of several in parallel that do not share alike */
  hottest?: number;
}

/** °C that is held against a limit. */
export const hottestOf = (r: ThermalNodeState): number => r.hottest ?? r.temperature;

/**
 * Temperatures of every rung.
 *
 * @param rungs a forest whose roots stand towards "air", in any order
 * @param heat W entering at a rung by id
 * @param air °C
 */
export function solveThermalNetwork(rungs: readonly ThermalNode[], heat: Readonly<Record<string, number>>, air: number): ThermalNodeState[] {
  const through = new Map<string, number>();
  for (const rung of rungs) {
    const watts = heat[rung.id] ?? 0;
    for (let at: ThermalNode | undefined = rung; at; at = rungs.find((r) => r.id === at!.towards)) through.set(at.id, (through.get(at.id) ?? 0) + watts);
  }
  const known = new Map<string, number>([['air', air]]);
  const temperature = (id: string): number => {
    const found = known.get(id);
    if (found !== undefined) return found;
    const rung = rungs.find((r) => r.id === id)!;
    const value = temperature(rung.towards) + rung.resistance * through.get(id)!;
    known.set(id, value);
    return value;
  };
  return rungs.map((rung) => ({ ...rung, temperature: temperature(rung.id), heat: through.get(rung.id)! }));
}
