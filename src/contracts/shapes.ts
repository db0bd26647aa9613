import { string, type StringSchema } from "yup";

/** A text without the room around it. What is no text stays what it is, and is refused as such: Yup's own would stumble over it. */
export const trimmed = (): StringSchema =>
  string().transform((value: unknown) => (typeof value === "string" ? value.trim() : value));
