import fc from "fast-check";
import { buildCatalogue, readDocument, releaseById } from "@/core/catalog";
import { candidatesOf, lacksOf, rankBoards, readPadSheet, sheetDocuments } from "@/core/identify";
import { valueOf } from "@/core/problem";
import { demoCatalogue, demoDocuments } from "../../../demo/documents";

const catalogue = demoCatalogue();
const heddle = valueOf(releaseById(catalogue, "heddle-22"));

const SHEET = `# as Pellow prints it
board: Pellow Eddy
maker: Pellow
printed: Eddy 2
revision: C
target: PEDDY
processor: Nettle 26
gyro: Orrin 4
usb: 2e8A:0c17
boot: button and pads
colour: blue
pad: M1; timer: 1 channel 1; default: front left
pad: M2; timer: 1 channel 2; default: front right
pad: M2; timer: 1 channel 3
pad: M3; timer: one
pad: S1; timer: 3 channel 2; default: rudder
pad: R1; port: 1 in; default: receiver
pad: T1; port: 1 out
pad: R9; port: 99 in
pad: R4; port: 4 in and out, soft
pad: X
speed; of light
`;

describe("case C36: a maker's pad sheet", () => {
  it("is taken over but for the lines that the family refuses, each with its place and reason", () => {
    const sheet = readPadSheet(SHEET, heddle, catalogue);
    expect(sheet.target).toEqual({
      id: "PEDDY",
      aliases: [],
      processor: "Nettle 26",
      gyro: "Orrin 4",
      ports: [1, 4],
      pads: {
        M1: "timer 1 channel 1",
        M2: "timer 1 channel 2",
        R1: "port 1 in",
        T1: "port 1 out",
        R4: "port 4 in and out, soft",
      },
    });
    expect(sheet.defaults).toEqual({ M1: "front left", M2: "front right", "port 1": "receiver" });
    expect(sheet.refused.map(({ line, why }) => `${line}: ${why}`)).toEqual([
      "11: This family knows no “colour”",
      "14: M2 stands on an earlier line already",
      "15: A timer is written “2 channel 1”, not “one”",
      "16: This family serves no “rudder” there",
      "19: This family has ports 1 to 8",
      "21: A pad is at a timer or at a port, and at one of them",
      "22: It is no list of fields, each a name, a colon and what it says",
    ]);
    expect(lacksOf(sheet)).toEqual([]);
    expect(lacksOf(readPadSheet("board: Eddy", heddle, catalogue))).toEqual([
      "maker",
      "processor",
      "gyro",
      "usb",
      "boot",
    ]);
  });

  it("comes out as documents that are taken in as they are, and the board is known by them", () => {
    const documents = sheetDocuments(readPadSheet(SHEET, heddle, catalogue), heddle);
    const made = [documents.board, documents.release].map((text) => valueOf(readDocument(text)));
    const grown = valueOf(buildCatalogue([...demoDocuments().map(({ document }) => document), ...made]));
    const ranking = rankBoards(candidatesOf(grown), [
      { kind: "printed", seen: "Eddy 2" },
      { kind: "revision", seen: "C" },
    ]);
    expect(ranking.targets[0]?.target).toBe("PEDDY");
    expect(grown.releases.get("heddle-22-peddy")?.targets.map(({ id }) => id)).toEqual(["PEDDY"]);
    expect(grown.releases.get("heddle-22-peddy")?.settings.length).toBe(heddle.settings.length);
  });

  it("says so when it is longer than any sheet is", () => {
    const { refused } = readPadSheet("# remark\n".repeat(2_500), heddle, catalogue);
    expect(refused.map(({ line, why }) => [line, why.slice(0, 9)])).toEqual([[2001, "501 lines"]]);
  });

  it("whatever stands in it: no line is dropped in silence, none is taken twice", () => {
    const line = fc.oneof(
      fc.constantFrom(...SHEET.split("\n")),
      fc.string({ maxLength: 60 }).map((text) => text.replace(/[\r\n]/g, " ")),
      fc
        .record({ pad: fc.string({ maxLength: 6 }), timer: fc.string({ maxLength: 12 }) })
        .map((p) => `pad: ${p.pad}; timer: ${p.timer}`),
    );
    fc.assert(
      fc.property(fc.array(line, { maxLength: 30 }), (lines) => {
        const text = lines.join("\n");
        const sheet = readPadSheet(text, heddle, catalogue);
        const meant = text.split("\n").filter((each) => each.replace(/#.*$/, "").trim() !== "").length;
        const taken = Object.keys(sheet.target.pads).length + Object.keys(sheet.about).length;
        expect(sheet.refused.length + taken).toBe(meant);
        for (const { line: at } of sheet.refused) expect(at).toBeLessThanOrEqual(lines.length);
      }),
    );
  });
});
