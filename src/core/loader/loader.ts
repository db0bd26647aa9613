import type { LoaderTransport, Processor, ProcessorLoader } from "@/core/catalog";
import type { LoaderPorts, SeenOn } from "@/core/loader/transports";
import type { Result } from "@/core/problem";

/** A stretch of a board's memory that its loader gives out and takes in. Address and length in bytes. */
export interface Space {
  /** By which the loader itself knows it. */
  readonly no: number;
  readonly start: number;
  readonly lengthBytes: number;
  readonly use: "application" | "settings" | "loader";
}

/** What a space holds against what it should hold. */
export interface Compared {
  readonly equal: boolean;
  /** Its first bytes, as far as they were read. */
  readonly head?: Uint8Array;
}

/** Code of the problem that a loader gives nothing out: it is protected, or never could. */
export const UNREADABLE = "loader-unreadable";

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

/** What a loader says of the board behind it. */
export interface LoaderWord {
  /** Derived from the chip id, by the processor's rule. */
  readonly id: string;
  /** Absent where the loader does not say it, and its USB identity has to. */
  readonly processor?: string;
}

/** A kind of loader: how one that shows itself like this on this port is asked who it is, and opened. */
export interface LoaderKind<L extends ProcessorLoader, T extends LoaderTransport> {
  /** Undefined: it does not answer as any of these processors' loaders would. */
  ask(port: LoaderPorts[T], seen: SeenOn<T>, processors: readonly Processor[]): Promise<LoaderWord | undefined>;
  /** `loader`: what the processor's document says of it. */
  open(port: LoaderPorts[T], seen: SeenOn<T>, processor: Processor, loader: L): Loader;
}
