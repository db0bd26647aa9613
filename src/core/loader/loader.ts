import type { Processor } from "@/core/catalog";
import type { Result } from "@/core/problem";

/** A stretch of a board's memory that its loader gives out and takes in. Address and length in bytes. */
export interface Space {
  /** By which the loader itself knows it. */
  readonly no: number;
  readonly start: number;
  readonly lengthBytes: number;
  /** It holds the settings, not the application. */
  readonly settings: boolean;
}

/** What a space holds against what it should hold. */
export interface Compared {
  readonly equal: boolean;
  /** Its first bytes, as far as they were read. */
  readonly head?: Uint8Array;
}

/** Told after each block of one piece of work: how many of its bytes are through. May throw to end the work. */
export type OnBlock = (doneBytes: number) => void;

/**
 * What a flash needs of a loader, whatever its kind. Every piece of work begins its space afresh, ends within limits of
 * requests and waits, and leaves the loader ready for the next. A board that has gone rejects with a ProblemError.
 */
export interface Loader {
  readonly spaces: readonly Space[];
  /** Without reading, nothing can be rescued or compared: it is said before anything is lost. */
  readonly can: { readonly read: boolean };
  /** So many bytes are written at a time: the least that disarming costs. */
  readonly blockBytes: number;
  read(space: Space, onBlock?: OnBlock): Promise<Result<Uint8Array>>;
  /** Reads until something differs. */
  compare(space: Space, expected: Uint8Array, onBlock?: OnBlock): Promise<Result<Compared>>;
  /** Erases the space and writes from its start; what is not given stays erased. */
  write(space: Space, bytes: Uint8Array, onBlock?: OnBlock): Promise<Result<undefined>>;
  /** Lets the board start whatever it holds. */
  leave(): Promise<void>;
}

/** A kind of loader: how one is opened that shows itself with this descriptor on this port. */
export interface LoaderKind<Descriptor, Port> {
  readonly kind: string;
  readonly open: (port: Port, descriptor: Descriptor, processor: Processor) => Loader;
}
