import { loaderSettings } from "@/core/catalog/loaders/field";

/** In ROM, on a bare serial line: S-records. */
export const RECORDS = loaderSettings({
  kind: "records",
  transport: "serial",
  title: "By a serial line: S-records",
  says: "In ROM, on a bare serial line: takes S-records and gives them out, a line each",
  fields: [
    {
      name: "baud",
      is: "number",
      least: 300,
      most: 4_000_000,
      label: "Bits a second",
      wants: "Bits a second, such as 115200",
      starts: "38400",
    },
    { name: "greets", is: "text", most: 40, label: "Word before its processor", starts: "records for" },
  ],
});
