import { loaderSettings } from "@/core/catalog/loaders/field";
import { USB_IDS } from "@/core/catalog/loaders/ids";

/** A drive that takes an image in UF2 blocks, and shows what it holds as another. */
export const DRIVE = loaderSettings({
  kind: "drive",
  transport: "drive",
  title: "As a drive that takes UF2",
  says: "A drive that takes UF2 blocks",
  fields: [
    ...USB_IDS,
    {
      name: "familyId",
      is: "number",
      most: 4_294_967_295,
      label: "Family id of its blocks",
      wants: "A number, such as 0x4E455434",
    },
    {
      name: "holds",
      is: "text",
      most: 64,
      optional: true,
      label: "File that shows what it holds, if any",
      says: "Name of the file that shows what is in flash, as UF2; absent where nothing can be read",
    },
  ],
});
