/** “1-3, 5” → 1, 2, 3, 5; undefined where it is no list of whole numbers, or names more than `most` of them. */
export function numbersIn(text: string, most = 512): number[] | undefined {
  const numbers = new Set<number>();
  for (const part of text.split(/[\s,]+/).filter(Boolean)) {
    const found = /^(\d{1,5})(?:[-–](\d{1,5}))?$/.exec(part);
    if (!found) return undefined;
    const [from, to] = [Number(found[1]), Number(found[2] ?? found[1])];
    if (to < from || numbers.size + to - from >= most) return undefined;
    for (let n = from; n <= to; n++) numbers.add(n);
  }
  return [...numbers].toSorted((a, b) => a - b);
}

const UNIT = { b: 1, bytes: 1, kb: 1024, kib: 1024, mb: 1024 * 1024 } as const;

/** “4 x 16 KB” and the like, one a line → runs of sectors in bytes; undefined where a line says something else. */
export function sectorsIn(text: string): { count: number; sizeBytes: number }[] | undefined {
  const lines = text.split(/\n|,/).filter((line) => line.trim() !== "");
  const runs = lines.map((line) => {
    const found = /^\s*(\d{1,4})\s*[x×*]\s*(\d{1,7})\s*([a-z]*)\s*$/i.exec(line);
    const unit = UNIT[(found?.[3] === "" ? "bytes" : (found?.[3]?.toLowerCase() ?? "")) as keyof typeof UNIT] as
      number | undefined;
    return found && unit !== undefined ? { count: Number(found[1]), sizeBytes: Number(found[2]) * unit } : undefined;
  });
  return runs.length > 0 && runs.every((run) => run !== undefined) ? runs : undefined;
}

/** A number as people write addresses and ids: “0x1209” or decimal; undefined where it is none, or larger than `most`. */
export function numberIn(text: string, most = 0xffffffff): number | undefined {
  const plain = text.trim();
  if (!/^(0x[0-9a-f]{1,8}|\d{1,10})$/i.test(plain)) return undefined;
  const number = Number(plain);
  return number <= most ? number : undefined;
}
