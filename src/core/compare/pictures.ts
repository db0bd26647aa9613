import { indexOf, type Picture, type Firmware, type SettingDefinition } from "@/core/catalog";
import { addressId, profileScope, type ScopeId } from "@/core/config";
import { padsOf, type Pad } from "@/core/compare/pads";
import type { Resolved } from "@/core/compare/resolved";

/** A curve of one side; x and y in the units that the picture names. */
export type Curve = readonly { readonly x: number; readonly y: number }[];

export interface CurvePicture {
  readonly kind: "stick-feel" | "smoothing";
  readonly title: string;
  readonly xLabel: string;
  readonly yLabel: string;
  readonly left?: Curve;
  readonly right?: Curve;
  /** What the two curves mean beside each other, in a sentence. */
  readonly says: string;
}

/** A lever's positions that do something, as shares of its travel from 0 to 1. */
export interface Notch {
  readonly does: string;
  readonly channel: string;
  readonly from: number;
  readonly to: number;
}

export interface LeverPicture {
  readonly kind: "levers";
  readonly title: string;
  readonly left: readonly Notch[];
  readonly right: readonly Notch[];
}

export interface DisplayPicture {
  readonly kind: "display";
  readonly title: string;
  readonly lines: number;
  readonly columns: number;
  readonly left: readonly { readonly item: string; readonly line: number; readonly column: number }[];
  readonly right: readonly { readonly item: string; readonly line: number; readonly column: number }[];
}

export interface PadsPicture {
  readonly kind: "pads";
  readonly title: string;
  readonly left: readonly Pad[];
  readonly right: readonly Pad[];
}

export type DrawnPicture = CurvePicture | LeverPicture | DisplayPicture | PadsPicture;

const settingOf = (release: Firmware, concept: string): SettingDefinition | undefined =>
  release.settings.find((setting) => setting.concept?.id === concept);

const scopeOf = (setting: SettingDefinition, active: Readonly<Record<string, number>>): ScopeId =>
  setting.scope === "system" ? "system" : profileScope(setting.scope, active[setting.scope] ?? 1);

/** A number of a side by what it means, in its own unit, from the profile that is in use on the left. */
function numberOf(
  side: Resolved,
  concept: string,
  active: Resolved["active"],
): { value: number; unit: string } | undefined {
  const setting = settingOf(side.release, concept);
  const found = setting && side.values.get(addressId({ scope: scopeOf(setting, active), key: setting.key }));
  if (!found || typeof found.value !== "number" || setting.type.kind !== "number") return undefined;
  return { value: found.value, unit: setting.type.unit ?? "" };
}

const STEPS = 40;

function stickFeel(
  side: Resolved,
  picture: Extract<Picture, { kind: "stick-feel" }>,
  active: Resolved["active"],
): Curve | undefined {
  const [rate, bend] = [numberOf(side, picture.rate, active), numberOf(side, picture.bend, active)];
  if (!rate || !bend) return undefined;
  return Array.from({ length: STEPS + 1 }, (_, i) => {
    const x = i / STEPS;
    return { x: x * 100, y: rate.value * ((1 - bend.value) * x + bend.value * x ** picture.power) };
  });
}

/** The share that passes a low-pass of that order: (1 + (f / f0)^(2n))^(-1/2), the Butterworth response. */
function smoothing(
  side: Resolved,
  picture: Extract<Picture, { kind: "smoothing" }>,
  active: Resolved["active"],
): Curve | undefined {
  const frequency = numberOf(side, picture.frequency, active);
  if (!frequency || frequency.value <= 0) return undefined;
  const setting = picture.order === undefined ? undefined : settingOf(side.release, picture.order);
  const word = setting && side.values.get(addressId({ scope: scopeOf(setting, active), key: setting.key }))?.value;
  const meant = setting?.concept?.words?.[String(word)] ?? String(word);
  const order = picture.orders?.[meant] ?? 1;
  return Array.from({ length: STEPS + 1 }, (_, i) => {
    const x = 10 ** (1 + (2 * i) / STEPS);
    return { x, y: 100 / Math.sqrt(1 + (x / frequency.value) ** (2 * order)) };
  });
}

const percent = (now: number, then: number) => Math.round((now / then - 1) * 100);

function feelSays(left: Curve | undefined, right: Curve | undefined): string {
  const [full, other] = [left?.at(-1)?.y, right?.at(-1)?.y];
  const [mid, otherMid] = [left?.[STEPS / 4]?.y, right?.[STEPS / 4]?.y];
  if (!full || !other || mid === undefined || !otherMid) return "One side does not have it.";
  const [ends, centre] = [percent(full, other), percent(mid, otherMid)];
  if (ends === 0 && centre === 0) return "Both feel alike.";
  const paceText = (n: number, where: string) =>
    n === 0 ? `as fast ${where}` : `${Math.abs(n)} % ${n > 0 ? "faster" : "slower"} ${where}`;
  const text = `${paceText(centre, "about the centre")}, ${paceText(ends, "at full stick")}`;
  return `Left is ${text}.`;
}

function smoothingSays(left: Curve | undefined, right: Curve | undefined): string {
  if (!left || !right) return "One side does not have it.";
  const at = (curve: Curve) =>
    curve.reduce((best, point) => (Math.abs(point.x - 200) < Math.abs(best.x - 200) ? point : best));
  const [mine, theirs] = [Math.round(at(left).y), Math.round(at(right).y)];
  return mine === theirs
    ? "Both let the same noise through."
    : `At 200 Hz the left lets ${mine} % through, the right ${theirs} %.`;
}

function levers(side: Resolved, picture: Extract<Picture, { kind: "levers" }>): Notch[] {
  const table = indexOf(side.release).tables.get(picture.table);
  const label = table?.columns.find((column) => column.type.kind === "choice");
  const [from, to] = [picture.from, picture.to].map((name) => table?.columns.find((c) => c.name === name));
  if (!table || !label || from?.type.kind !== "number" || to?.type.kind !== "number") return [];
  const { min, max } = from.type;
  const share = (value: number) => (value - min) / (max - min);
  return [...side.rows.values()]
    .filter((row) => row.table === picture.table)
    .map((row) => ({
      does: String(row.cells[label.name] ?? label.default),
      channel: String(row.cells[picture.channel] ?? ""),
      from: share(Number(row.cells[picture.from] ?? from.default)),
      to: share(Number(row.cells[picture.to] ?? to.default)),
    }))
    .toSorted((a, b) => Number(a.channel) - Number(b.channel) || a.from - b.from);
}

function display(side: Resolved, picture: Extract<Picture, { kind: "display" }>) {
  const table = indexOf(side.release).tables.get(picture.table);
  const shown = table?.columns.find((column) => column.type.kind === "switch");
  const number = (cells: Readonly<Record<string, unknown>>, name: string) =>
    Number(cells[name] ?? table?.columns.find((c) => c.name === name)?.default ?? 1);
  return [...side.rows.values()]
    .filter((row) => row.table === picture.table && (!shown || (row.cells[shown.name] ?? shown.default) === true))
    .map((row) => ({
      item: row.key,
      line: number(row.cells, picture.line),
      column: number(row.cells, picture.column),
    }));
}

/**
 * The pictures of a release, drawn for both sides at once. Both sides must be of the left's release: the right one
 * carried over.
 */
export function drawPictures(left: Resolved, right: Resolved): DrawnPicture[] {
  return left.release.pictures.flatMap((picture): DrawnPicture[] => {
    switch (picture.kind) {
      case "stick-feel":
      case "smoothing": {
        const draw = (side: Resolved) =>
          picture.kind === "stick-feel" ? stickFeel(side, picture, left.active) : smoothing(side, picture, left.active);
        const [mine, theirs] = [draw(left), draw(right)];
        if (!mine && !theirs) return [];
        const unit = picture.kind === "stick-feel" ? numberOf(left, picture.rate, left.active)?.unit : "%";
        return [
          {
            kind: picture.kind,
            title: picture.title,
            xLabel: picture.kind === "stick-feel" ? "stick, %" : "Hz",
            yLabel: unit ?? "",
            ...(mine ? { left: mine } : {}),
            ...(theirs ? { right: theirs } : {}),
            says: picture.kind === "stick-feel" ? feelSays(mine, theirs) : smoothingSays(mine, theirs),
          },
        ];
      }
      case "levers":
        return [{ kind: "levers", title: picture.title, left: levers(left, picture), right: levers(right, picture) }];
      case "pads": {
        const { pins } = left.release;
        return pins
          ? [{ kind: "pads", title: picture.title, left: padsOf(left, pins), right: padsOf(right, pins) }]
          : [];
      }
      case "display": {
        const { lines, columns } = picture;
        return [
          {
            kind: "display",
            title: picture.title,
            lines,
            columns,
            left: display(left, picture),
            right: display(right, picture),
          },
        ];
      }
    }
  });
}

/** Whether a picture looks the same on both sides. */
export const alikePicture = (picture: DrawnPicture): boolean =>
  JSON.stringify(picture.left ?? null) === JSON.stringify(picture.right ?? null);
