import { loaderSettings } from "@/core/catalog/loaders/field";
import { USB_IDS } from "@/core/catalog/loaders/ids";

/** By USB DFU 1.1. */
export const USB = loaderSettings({
  kind: "usb",
  transport: "usb",
  title: "By USB, as the standard for device firmware upgrade has it",
  says: "USB DFU 1.1: each space is an alternate setting",
  fields: [
    ...USB_IDS,
    {
      name: "transferSizeBytes",
      is: "number",
      least: 8,
      most: 65_535,
      label: "Bytes in one transfer",
      wants: "A number of bytes",
      starts: "2048",
    },
    { name: "canUpload", is: "flag", label: "What it holds can be read back", starts: true },
    // names of the alternate settings, as templates: {no}, {start} in hex, {length} in bytes
    {
      name: "segmentName",
      is: "text",
      least: 0,
      most: 120,
      label: "What it calls a segment",
      starts: "segment {no}: from {start}, {length} bytes",
    },
    {
      name: "settingsName",
      is: "text",
      least: 0,
      most: 120,
      label: "What it calls the settings",
      starts: "settings: from {start}, {length} bytes",
    },
    {
      name: "loaderName",
      is: "text",
      least: 0,
      most: 120,
      optional: true,
      says: "Of each of its own sectors, where it can be replaced through itself",
    },
  ],
});
