import { string } from "yup";

/** A name, an id or a hash. */
export const name = () => string().max(100).required();
