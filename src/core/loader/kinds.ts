import { loaderOn, type LoaderTransport, type Processor, type ProcessorLoader } from "@/core/catalog";
import { transportOf, type TransportOf } from "@/core/catalog/loaders";
import { DFU } from "@/core/loader/dfu/open";
import { DRIVE } from "@/core/loader/drive/open";
import type { Loader, LoaderKind, LoaderWord } from "@/core/loader/loader";
import { SERIAL } from "@/core/loader/serial/open";
import type { LoaderPorts, LoaderSeen } from "@/core/loader/transports";

type Kinds = {
  readonly [L in ProcessorLoader as L["kind"]]: LoaderKind<L, TransportOf<L["kind"]>>;
};
/** Every kind of loader: one folder each, one row here. */
export const LOADERS: Kinds = { usb: DFU, serial: SERIAL, drive: DRIVE };

/** A kind whose settings and port are taken together with it: neither can be of another than what was seen. */
type AnyKind = LoaderKind<ProcessorLoader, LoaderTransport>;
const KINDS = Object.entries(LOADERS) as unknown as readonly (readonly [ProcessorLoader["kind"], AnyKind])[];

export const openLoader = (ports: LoaderPorts, seen: LoaderSeen, processor: Processor): Loader => {
  const loader = loaderOn(processor, seen.transport);
  if (!loader) throw new Error(`${processor.id} has no loader on ${seen.transport}`);
  return (LOADERS[loader.kind] as AnyKind).open(ports[seen.transport], seen, processor, loader);
};

/**
 * Asks a loader who it is, as each kind on its transport would; undefined when it answers as none of these processors'
 * loaders would.
 */
export const askLoader = async (
  ports: LoaderPorts,
  seen: LoaderSeen,
  processors: readonly Processor[],
): Promise<LoaderWord | undefined> => {
  for (const [name, kind] of KINDS) {
    if (transportOf(name) !== seen.transport) continue;
    const word = await kind.ask(ports[seen.transport], seen, processors);
    if (word) return word;
  }
  return undefined;
};
