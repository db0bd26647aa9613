import type { BayLive } from "@/core/job";

export interface Bay {
  readonly no: number;
  readonly benchId: number;
  readonly live: BayLive;
}

/** A bench whose process has not shown itself lately; also not since the clock was set back. */
export interface BenchDown {
  readonly id: number;
  /** It is missed: it is the workshop's first, a job is open on it, or it was there within the hour. Others are put away. */
  readonly missed: boolean;
}

/** A line of the journal, without what it says. */
export interface StreamedEntry {
  readonly benchId: number;
  readonly no: number;
  readonly jobId: number | null;
  readonly bayNo: number | null;
  readonly kind: string;
}

/** What a browser is told: the strip as a whole, one bay, or lines of the journal. `no` rises with every line. */
export type Told =
  | {
      readonly kind: "strip";
      readonly bays: readonly Bay[];
      readonly down: readonly BenchDown[];
      readonly no: number;
    }
  | { readonly kind: "bay"; readonly bay: Bay }
  | { readonly kind: "journal"; readonly entries: readonly StreamedEntry[]; readonly no: number };

/** A serial port of a bench's machine. */
export interface PortSeen {
  readonly path: string;
  /** What its device says of itself. */
  readonly says: string;
  readonly usb?: string;
}
