const ID = { is: "number", most: 65_535, wants: "A number up to 0xffff, such as 0x1209" } as const;

/** How a loader on USB names itself (USB 2.0, 9.6.1). */
export const USB_IDS = [
  { ...ID, name: "vendorId", label: "Vendor id", starts: "0x1209" },
  { ...ID, name: "productId", label: "Product id" },
] as const;
