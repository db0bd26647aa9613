import { SECTIONS } from "./sections";

/** Prints one section of the figures, measured once: tests/performance/section.ts NAME. */
async function main(): Promise<void> {
  const name = process.argv[2] ?? "";
  const section = SECTIONS[name];
  if (!section) throw new Error(`there is no section “${name}”; sections: ${Object.keys(SECTIONS).join(", ")}`);
  await section.run((text = "") => console.log(text));
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
