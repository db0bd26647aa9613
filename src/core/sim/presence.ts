/** Faults that can be switched on, and stay until they are switched off. */
export interface Faults {
  chargeOnlyCable: boolean;
  swallowLoaderWord: boolean;
  /** After a restart the board stays away until it is unplugged and plugged in again. */
  staysAway: boolean;
  /** The plug to the part that it feels through is loose. */
  partsSilent: boolean;
  /** Its loaders give nothing out; the first write lifts that, and erases all that is not a loader. */
  readProtected: boolean;
  /** A sector in which the application lies does not keep what is written to it. */
  wornSector: boolean;
  /** The power goes when so many more bytes are written to flash; 0: it stays. */
  powerCutAfterBytes: number;
  /** Every n-th USB transfer stalls; 0: none. */
  stallEvery: number;
}

export const NO_FAULTS: Faults = {
  chargeOnlyCable: false,
  swallowLoaderWord: false,
  staysAway: false,
  partsSilent: false,
  readProtected: false,
  wornSector: false,
  powerCutAfterBytes: 0,
  stallEvery: 0,
};

/** What the host sees on the cable. */
export type Presence =
  | { readonly kind: "none" }
  | ({ readonly kind: "console"; readonly vendorId: number; readonly productId: number } & Shown)
  | ({ readonly kind: "loader" } & Shown & LoaderShown);

/** The host gives each appearance on the bus the next of its port names. */
interface Shown {
  readonly port: string;
  readonly appearance: number;
}

export type LoaderShown =
  | {
      readonly transport: "usb";
      readonly vendorId: number;
      readonly productId: number;
      readonly serial: string;
      /** Of the loader, where it lives in flash: bcdDevice says it. */
      readonly version?: number;
      readonly alternates: readonly string[];
      readonly transferSizeBytes: number;
      readonly canUpload: boolean;
    }
  | { readonly transport: "drive"; readonly vendorId: number; readonly productId: number; readonly serial: string }
  | { readonly transport: "serial" };
