import { flashProgress, startFlash, stepFlash, transferOf, type FlashPart, type FlashState } from "@/core/loader/flash";
import type { ControlReply, ControlRequest } from "@/core/loader/protocol";
import { bytesRead, startTransfer, stepTransfer, type Transfer, type TransferState } from "@/core/loader/transfer";
import { ok, refuse, type Result } from "@/core/problem";

/** A loader on a cable. A transfer on a board that has gone rejects with a ProblemError. */
export interface UsbPort {
  control(request: ControlRequest): Promise<ControlReply>;
  wait(ms: number): Promise<void>;
  nowUs(): number;
}

/** Runs one transfer to its end. */
export async function runTransfer(
  port: UsbPort,
  transfer: Transfer,
  transferSizeBytes: number,
  onBlock: (state: TransferState) => void = () => undefined,
): Promise<TransferState> {
  let step = stepTransfer(startTransfer(transfer, transferSizeBytes), { kind: "start" });
  while (step.effect) {
    if (step.effect.kind === "wait") {
      await port.wait(step.effect.ms);
      step = stepTransfer(step.state, { kind: "waited" });
    } else {
      const before = step.state.block;
      step = stepTransfer(step.state, { kind: "reply", reply: await port.control(step.effect.request) });
      if (step.state.block !== before) onBlock(step.state);
    }
  }
  return step.state;
}

/** Reads a whole alternate setting. */
export async function readSegment(
  port: UsbPort,
  segment: { readonly alternate: number; readonly lengthBytes: number },
  transferSizeBytes: number,
): Promise<Result<Uint8Array>> {
  const state = await runTransfer(port, { kind: "read", ...segment }, transferSizeBytes);
  return state.problem ? refuse(state.problem) : ok(bytesRead(state));
}

export interface FlashReport {
  readonly state: FlashState;
  readonly doneBytes: number;
  readonly totalBytes: number;
}

/** Compares, disarms, writes, checks and arms, as `FlashState` says; reports after each block. */
export async function runFlash(
  port: UsbPort,
  parts: readonly FlashPart[],
  transferSizeBytes: number,
  report: (report: FlashReport) => void | Promise<void> = () => undefined,
): Promise<Result<FlashState>> {
  let state = startFlash(parts);
  for (let transfer = transferOf(state, transferSizeBytes); transfer; transfer = transferOf(state, transferSizeBytes)) {
    const current = state;
    // reports go on beside the transfer, one after the other; the first that fails ends it
    let reporting = Promise.resolve();
    const broken: unknown[] = [];
    const done = await runTransfer(port, transfer, transferSizeBytes, (progress) => {
      if (broken.length > 0) throw broken[0];
      const { doneBytes, totalBytes } = flashProgress(current);
      const extra = current.phase === "write" || current.phase === "check" ? progress.doneBytes : 0;
      const result = report({ state: current, doneBytes: doneBytes + extra, totalBytes });
      if (result)
        reporting = Promise.all([reporting, result]).then(
          () => undefined,
          (error: unknown) => void broken.push(error),
        );
    });
    await reporting;
    if (broken.length > 0) throw broken[0];
    if (done.problem) return refuse(done.problem);
    const firstBlock = done.received[0];
    state = stepFlash(state, { equal: done.equal, ...(firstBlock ? { firstBlock } : {}) });
    await report({ state, ...flashProgress(state) });
  }
  return state.problem ? refuse(state.problem) : ok(state);
}
