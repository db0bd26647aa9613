import type { SettingDefinition } from "@/core/catalog/definition";
import type { Loss } from "@/core/catalog/rules/losses";
import { quantize, type Value, type ValueType } from "@/core/config";

/** new = old × factor + offset. */
export interface Linear {
  readonly factor: number;
  readonly offset?: number;
}

export const applied = (value: number, { factor, offset = 0 }: Linear): number => value * factor + offset;

/** First one, then the other. */
export const after = (first: Linear, then: Linear): Linear => ({
  factor: first.factor * then.factor,
  offset: applied(first.offset ?? 0, then),
});

/** “× 10 + 5”; empty where nothing happens. */
export function linearText({ factor, offset = 0 }: Linear): string {
  const times = factor === 1 ? "" : `× ${Number(factor.toPrecision(6))}`;
  const plus = offset === 0 ? "" : `${offset < 0 ? "−" : "+"} ${Math.abs(Number(offset.toPrecision(6)))}`;
  return [times, plus].filter((each) => each !== "").join(" ");
}

export const inverse = ({ factor, offset = 0 }: Linear): Linear => ({
  factor: 1 / factor,
  ...(offset === 0 ? {} : { offset: -offset / factor }),
});

/** What the arithmetic of two numbers leaves at most between equal results (IEEE 754 double). */
export const isNearly = (a: number, b: number) => Math.abs(a - b) <= 1e-9 * Math.max(1, Math.abs(a), Math.abs(b));

/** A number in its new unit and step; what is no number stays as it is. */
export function scaled(
  value: Value,
  linear: Linear,
  type: ValueType | undefined,
): { readonly value: Value; readonly loss: Loss } {
  if (typeof value !== "number") return { value, loss: "none" };
  const exact = applied(value, linear);
  if (type?.kind !== "number") return { value: exact, loss: "none" };
  const rounded = quantize(exact, type.step);
  return { value: rounded, loss: isNearly(rounded, exact) ? "none" : "rounding" };
}

/** Whether each step of the old unit is a whole number of steps of the new one. */
export function linearLoss(
  linear: Linear,
  before: SettingDefinition | undefined,
  after: SettingDefinition | undefined,
): Loss {
  if (before?.type.kind !== "number" || after?.type.kind !== "number") return "none";
  const whole = (n: number) => isNearly(n, Math.round(n));
  const { step } = after.type;
  return whole((before.type.step * linear.factor) / step) && whole(applied(before.type.min, linear) / step)
    ? "none"
    : "rounding";
}
