import { compilePattern, matchPattern } from "@/core/catalog/pattern";
import type { UsbLoader } from "@/core/catalog";
import type { LoaderDescriptor } from "@/core/loader/dfu/protocol";
import { bytesRead, startTransfer, stepTransfer, type Transfer, type TransferState } from "@/core/loader/dfu/transfer";
import type { LoaderKind, OnBlock, Space } from "@/core/loader/loader";
import type { UsbPort } from "@/core/loader/transports";
import { ok, refuse } from "@/core/problem";

/** Runs one transfer to its end. */
export async function runTransfer(
  port: Omit<UsbPort, "reset">,
  transfer: Transfer,
  transferSizeBytes: number,
  onBlock: OnBlock = () => undefined,
): Promise<TransferState> {
  let step = stepTransfer(startTransfer(transfer, transferSizeBytes), { kind: "start" });
  while (step.effect) {
    if (step.effect.kind === "wait") {
      await port.wait(step.effect.ms);
      step = stepTransfer(step.state, { kind: "waited" });
    } else {
      const before = step.state.block;
      step = stepTransfer(step.state, { kind: "reply", reply: await port.control(step.effect.request) });
      if (step.state.block !== before) onBlock(step.state.doneBytes);
    }
  }
  return step.state;
}

/** What a loader offers, by the processor document's names. Names that fit no pattern are left aside. */
export function spacesOf(descriptor: LoaderDescriptor, loader: UsbLoader): Space[] {
  const patterns = [
    { pattern: compilePattern(loader.segmentName), use: "application" as const },
    { pattern: compilePattern(loader.settingsName), use: "settings" as const },
    ...(loader.loaderName === undefined
      ? []
      : [{ pattern: compilePattern(loader.loaderName), use: "loader" as const }]),
  ];
  return descriptor.alternates.flatMap((name, no) => {
    for (const { pattern, use } of patterns) {
      const fields = matchPattern(pattern, name);
      if (!fields) continue;
      const [start, lengthBytes] = [Number(fields.start), Number(fields.length)];
      if (Number.isSafeInteger(start) && Number.isSafeInteger(lengthBytes) && lengthBytes > 0)
        return [{ no, use, start, lengthBytes }];
    }
    return [];
  });
}

/** USB Device Class Specification for Device Firmware Upgrade, Revision 1.1: each space is an alternate setting. */
export const DFU: LoaderKind<UsbLoader, "usb"> = {
  ask: (_, { serial }) => Promise.resolve({ id: serial }),
  open(port, descriptor, _, loader) {
    const run = (transfer: Transfer, onBlock?: OnBlock) =>
      runTransfer(port, transfer, descriptor.transferSizeBytes, onBlock);
    return {
      spaces: spacesOf(descriptor, loader),
      can: { read: descriptor.canUpload },
      blockBytes: descriptor.transferSizeBytes,
      async read({ no, lengthBytes }, onBlock) {
        const state = await run({ kind: "read", alternate: no, lengthBytes }, onBlock);
        return state.problem ? refuse(state.problem) : ok(bytesRead(state));
      },
      async compare({ no, lengthBytes }, expected, onBlock) {
        const state = await run({ kind: "read", alternate: no, lengthBytes, expect: expected }, onBlock);
        const [head] = state.received;
        return state.problem ? refuse(state.problem) : ok({ equal: state.equal, ...(head ? { head } : {}) });
      },
      async write({ no }, bytes, onBlock) {
        const state = await run({ kind: "write", alternate: no, bytes }, onBlock);
        return state.problem ? refuse(state.problem) : ok(undefined);
      },
      leave: () => port.reset(),
    };
  },
};
