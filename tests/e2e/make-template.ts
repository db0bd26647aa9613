import template from "./template";

/** Makes the template ahead of the browser's tests, which do so themselves where nobody has. */
template().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
