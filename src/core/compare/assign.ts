/**
 * The assignment of rows to columns that costs least in all (Hungarian method, O(n³)). `cost[i][j]` may be any finite
 * number; with fewer columns than rows, or the reverse, some stay alone. Gives for each row its column, or -1.
 */
export function assign(cost: readonly (readonly number[])[]): number[] {
  const rows = cost.length;
  const columns = cost[0]?.length ?? 0;
  if (rows === 0 || columns === 0) return cost.map(() => -1);
  if (rows > columns) {
    const turned = assign(Array.from({ length: columns }, (_, j) => cost.map((row) => row[j] ?? 0)));
    const found = new Array<number>(rows).fill(-1);
    turned.forEach((row, column) => {
      if (row >= 0) found[row] = column;
    });
    return found;
  }
  // potentials and the matching, all counted from 1; column 0 is the start of each search
  const u = new Float64Array(rows + 1);
  const v = new Float64Array(columns + 1);
  const matched = new Int32Array(columns + 1);
  const cameFrom = new Int32Array(columns + 1);
  for (let row = 1; row <= rows; row++) {
    matched[0] = row;
    let column = 0;
    const least = new Float64Array(columns + 1).fill(Infinity);
    const used = new Uint8Array(columns + 1);
    do {
      used[column] = 1;
      const current = matched[column] ?? 0;
      const costs = cost[current - 1] ?? [];
      let delta = Infinity;
      let next = 0;
      for (let j = 1; j <= columns; j++) {
        if (used[j]) continue;
        const reduced = (costs[j - 1] ?? 0) - (u[current] ?? 0) - (v[j] ?? 0);
        if (reduced < (least[j] ?? Infinity)) {
          least[j] = reduced;
          cameFrom[j] = column;
        }
        if ((least[j] ?? Infinity) < delta) {
          delta = least[j] ?? Infinity;
          next = j;
        }
      }
      for (let j = 0; j <= columns; j++) {
        if (used[j]) {
          const owner = matched[j] ?? 0;
          u[owner] = (u[owner] ?? 0) + delta;
          v[j] = (v[j] ?? 0) - delta;
        } else least[j] = (least[j] ?? 0) - delta;
      }
      column = next;
    } while (matched[column] !== 0);
    do {
      const back = cameFrom[column] ?? 0;
      matched[column] = matched[back] ?? 0;
      column = back;
    } while (column !== 0);
  }
  const found = new Array<number>(rows).fill(-1);
  for (let j = 1; j <= columns; j++) {
    const row = matched[j] ?? 0;
    if (row > 0) found[row - 1] = j - 1;
  }
  return found;
}
