import { danglingIn, namedBy, type CatalogueDocument } from "@/core/catalog";
import { demoDocuments } from "../../../demo/documents";

const ALL = demoDocuments().map(({ document }) => document);

/** Every text in a document that is the id of another one, found without the schemas. */
function textsThatAreIds(document: CatalogueDocument): string[] {
  const ids = new Set(ALL.filter((each) => each !== document).map((each) => each.id));
  const found = new Set<string>();
  const look = (value: unknown): void => {
    if (typeof value === "string" && ids.has(value)) found.add(value);
    else if (typeof value === "object" && value !== null) for (const each of Object.values(value)) look(each);
  };
  look(document);
  return [...found].toSorted();
}

describe("what documents name", () => {
  it("is every text that is another document's id", () => {
    for (const document of ALL)
      expect({
        id: document.id,
        names: namedBy(document)
          .map(({ id }) => id)
          .toSorted(),
      }).toEqual({
        id: document.id,
        names: textsThatAreIds(document),
      });
  });

  it("leads somewhere in all of them together; without one of them, whoever names it is told so, at the place", () => {
    for (const document of ALL) expect(danglingIn(document, ALL)).toBeUndefined();
    for (const gone of ALL) {
      const left = ALL.filter((each) => each !== gone);
      for (const document of left) {
        const told = danglingIn(document, left);
        const names = namedBy(document).some(({ kind, id }) => kind === gone.document && id === gone.id);
        expect({ names, of: document.id, told: told?.detail?.startsWith(`${gone.id}; `) ?? false }).toEqual({
          names,
          of: document.id,
          told: names,
        });
        if (told) expect(placeIn(document, told.where?.path ?? "")).toBe(gone.id);
      }
    }
  });

  it("is told of every single name in a document that is changed", () => {
    for (const document of ALL)
      for (const path of placesOf(document, new Set(namedBy(document).map(({ id }) => id)))) {
        const other = structuredClone(document);
        put(other, path, "no such thing");
        expect(danglingIn(other, ALL)).toMatchObject({ code: "document-dangling", where: { path } });
      }
  });
});

type Tree = Record<string, unknown>;
const stepsOf = (path: string) => path.split("/").slice(1);
const placeIn = (tree: unknown, path: string): unknown =>
  stepsOf(path).reduce((at, step) => (at as Tree | undefined)?.[step], tree);

function put(tree: unknown, path: string, value: string): void {
  const steps = stepsOf(path);
  const last = steps.pop() ?? "";
  steps.reduce((at, step) => at[step] as Tree, tree as Tree)[last] = value;
}

/** Where in a document texts of some names stand, but for its own id. */
function placesOf(tree: unknown, names: ReadonlySet<string>, path = ""): string[] {
  if (typeof tree === "string") return names.has(tree) && path !== "/id" ? [path] : [];
  if (typeof tree !== "object" || tree === null) return [];
  return Object.entries(tree).flatMap(([step, each]) => placesOf(each, names, `${path}/${step}`));
}
