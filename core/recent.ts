/** What was worked out of late, by key: found again, or made and kept; beyond `most` the one not asked for longest goes. */
export function recent<K, V extends object>(most: number): (key: K, make: () => V) => V {
  const known = new Map<K, V>();
  return (key, make) => {
    const found = known.get(key) ?? make();
    known.delete(key);
    known.set(key, found);
    if (known.size > most) known.delete(known.keys().next().value!);
    return found;
  };
}
