import type { ValueType } from "@/core/config";

/** A number keeps about 15 digits (IEEE 754, binary64); a step finer than these cannot be told from none. */
const MOST_DECIMALS = 12;
const MOST_STEPS = 1e15;

const decimalsOf = (step: number): number => {
  const [mantissa = "", exponent = "0"] = String(step).split("e");
  return Math.max(0, (mantissa.split(".")[1]?.length ?? 0) - Number(exponent));
};

/** What a type says that cannot be, in words; undefined for a type that values can have. */
export function typeFault(type: ValueType): { readonly message: string; readonly detail: string } | undefined {
  switch (type.kind) {
    case "number": {
      const { min, max, step } = type;
      if (![min, max, step].every(Number.isFinite))
        return { message: "A range has no end that is a number", detail: `${min} to ${max}, in steps of ${step}` };
      if (min > max) return { message: "A range ends before it begins", detail: `${min} to ${max}` };
      if (decimalsOf(step) > MOST_DECIMALS || (max - min) / step > MOST_STEPS)
        return {
          message: "A step is finer than a number can tell over its range",
          detail: `${min} to ${max}, in steps of ${step}`,
        };
      return undefined;
    }
    case "choice":
    case "flags": {
      const twice = type.options.find((word, i) => type.options.indexOf(word) !== i);
      return twice === undefined ? undefined : { message: "A word can be chosen twice", detail: twice };
    }
    case "switch":
    case "text":
      return undefined;
  }
}
