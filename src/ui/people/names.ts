import { string } from "yup";

/** What somebody signs in with. */
export const accountName = () =>
  string()
    .trim()
    .required("The name is missing")
    .matches(/^[a-z][a-z0-9._-]{0,38}[a-z0-9]$/, "Small letters, digits, dots and hyphens, beginning with a letter");

/** What somebody is called, as papers say it. */
export const personName = () => string().trim().max(80, "80 characters at most").default("");
