/** The ids of a level's nodes: their names, told apart where several have the same. @param names in the level's order; '' for none. */
export function uniqueIds(names: readonly string[]): string[] {
  const used = new Map<string, number>();
  const taken = new Set(names);
  return names.map((given, i) => {
    const name = given || `node ${i + 1}`;
    const n = (used.get(name) ?? 0) + 1;
    used.set(name, n);
    if (n === 1) return name;
    let id = `${name} (${n})`;
    while (taken.has(id)) id += "'";
    taken.add(id);
    return id;
  });
}
