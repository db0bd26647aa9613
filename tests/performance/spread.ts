/** A number as the pages write it: digits, perhaps with a point. */
const NUMBER = /\d+(?:\.\d+)?/g;

const middle = (sorted: readonly string[]) => sorted[sorted.length >> 1] ?? "";

/**
 * The lines of a page that was made several times, as one: a number that came out the same each time stands as it is, one
 * that did not as its median with the lowest and the highest, `1.02 (0.98 to 1.11)`. Lines that differ in more than their
 * numbers are an error, since then they are not of the same thing.
 */
export function spreadOf(pages: readonly (readonly string[])[]): string[] {
  const [first = []] = pages;
  return first.map((line, no) => {
    const numbers = pages.map((page) => page[no]?.match(NUMBER) ?? []);
    if (
      pages.some(
        (page) => page.length !== first.length || page[no]?.replaceAll(NUMBER, "#") !== line.replaceAll(NUMBER, "#"),
      )
    )
      throw new Error(`line ${no + 1} is another each time: ${line}`);
    let at = 0;
    return line.replaceAll(NUMBER, (number) => {
      const sorted = numbers.map((row) => row[at] ?? "").sort((a, b) => Number(a) - Number(b));
      at++;
      const [least, most] = [sorted[0] ?? "", sorted.at(-1) ?? ""];
      return least === most ? number : `${middle(sorted)} (${least} to ${most})`;
    });
  });
}
