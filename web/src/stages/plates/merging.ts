type Branch = Record<string, unknown>;

const isBranch = (value: unknown): value is Branch =>
  typeof value === "object" && value !== null && !Array.isArray(value);
const same = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);

/**
 * What two people made of one thing, put together: whatever only one of them changed is as they left it; where both
 * changed the same, it is as `mine` has it. Lists of equal length are put together item by item, others are one thing.
 */
export function merged(before: unknown, mine: unknown, theirs: unknown): unknown {
  if (same(mine, theirs) || same(before, theirs)) return mine;
  if (same(before, mine)) return theirs;
  if (isBranch(mine) && isBranch(theirs)) {
    const was = isBranch(before) ? before : {};
    const branch: Branch = {};
    for (const key of new Set([...Object.keys(theirs), ...Object.keys(mine)])) {
      const value = merged(was[key], mine[key], theirs[key]);
      if (value !== undefined) branch[key] = value;
    }
    return branch;
  }
  if (Array.isArray(before) && Array.isArray(mine) && Array.isArray(theirs)) {
    if (mine.length === theirs.length && mine.length === before.length)
      return mine.map((item, i) => merged(before[i], item, theirs[i]));
  }
  return mine;
}
