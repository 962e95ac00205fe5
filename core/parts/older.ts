/** What older files call otherwise in a part: a second temperature of measured energies stood by itself. */
export function renamedPart(part: unknown): unknown {
  const table = (part as { switchingEnergy?: Record<string, unknown> } | null)?.switchingEnergy;
  if (typeof table !== 'object' || table === null || !Array.isArray(table.hotPoints)) return part;
  const { hotTemperature, hotPoints, ...rest } = table;
  return { ...(part as object), switchingEnergy: { ...rest, warmPoints: hotPoints.map((row) => [hotTemperature, ...(Array.isArray(row) ? (row as unknown[]) : [row])]) } };
}
