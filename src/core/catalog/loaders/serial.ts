import { loaderSettings } from "@/core/catalog/loaders/field";

const LETTER = { is: "text", most: 8 } as const;

/** In ROM, on a bare serial line: a menu of letters, then XMODEM. */
export const SERIAL = loaderSettings({
  kind: "serial",
  transport: "serial",
  title: "By a serial line: a menu of letters, then XMODEM",
  says: "In ROM, on a bare serial line: a menu of letters, each a line ended by CR, then XMODEM-1K with CRC-16. Read and write take a first sector and a length in bytes",
  fields: [
    // whoever talks to it has to find it out
    {
      name: "baud",
      is: "number",
      least: 300,
      most: 4_000_000,
      label: "Bits a second",
      wants: "Bits a second, such as 115200",
      starts: "115200",
    },
    { ...LETTER, name: "letters.identity", label: "Letter that asks who it is", starts: "i" },
    { ...LETTER, name: "letters.read", label: "Letter that reads", starts: "r" },
    { ...LETTER, name: "letters.write", label: "Letter that writes", starts: "w" },
    { ...LETTER, name: "letters.start", label: "Letter that starts the firmware", starts: "g" },
    {
      ...LETTER,
      name: "letters.check",
      optional: true,
      says: "Tells the CRC-32 (ISO-HDLC) of so many bytes from a sector on; absent where it cannot",
    },
    {
      name: "identity",
      is: "text",
      most: 120,
      label: "Its answer to who it is",
      says: "Pattern of its answer: {processor}, {id}, {sectors}",
      starts: "{processor}, id {id}, {sectors} sectors",
    },
    {
      name: "checked",
      is: "text",
      most: 120,
      optional: true,
      says: "Pattern of its answer to a check: {crc} in hex",
    },
    { name: "done", is: "text", most: 120, label: "Its answer when it is done", starts: "ok" },
    {
      name: "refused",
      is: "text",
      most: 120,
      label: "Its answer when it is not",
      says: "Pattern: {why}",
      starts: "no: {why...}",
    },
  ],
});
