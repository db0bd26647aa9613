import { existsSync, readdirSync, realpathSync } from "node:fs";
import path from "node:path";
import { SerialPort } from "serialport";
import { dataFolder } from "@/server/env";
import { ProblemError } from "@/core/problem";
import type { PortSeen } from "@/contracts/answers/live";
import { keepPorts, portsOfBays } from "@/server/repositories/bench";

/** Links to the terminals of boards that bin/board runs; see docs/decisions/0022-a-line-is-asked.md. */
export const boardPortsFolder = (): string => path.join(dataFolder(), "ports");

function boardPorts(): PortSeen[] {
  const folder = boardPortsFolder();
  if (!existsSync(folder)) return [];
  return readdirSync(folder)
    .map((name) => ({ path: path.join(folder, name), says: `simulated, ${name}` }))
    .filter((port) => existsSync(port.path) && realpathSync(port.path).startsWith("/dev/"));
}

/** A port as the operating system lists it; ids in hex. */
interface Listed {
  readonly path: string;
  readonly manufacturer?: string;
  readonly serialNumber?: string;
  readonly pnpId?: string;
  readonly vendorId?: string;
  readonly productId?: string;
}

/** The serial ports that this machine has now, with what their devices say of themselves. */
export async function portsHere(): Promise<PortSeen[]> {
  // a machine that cannot list its ports has none to offer
  const found = await (SerialPort.list() as Promise<Listed[]>).catch((): Listed[] => []);
  const real = found
    // a line that no device answers for is a socket on the mainboard, or none at all
    .filter(({ vendorId, pnpId, path: at }) => vendorId !== undefined || pnpId !== undefined || !/ttyS\d+$/.test(at))
    .map(({ path: at, manufacturer, serialNumber, vendorId, productId }) => ({
      path: at,
      says: [manufacturer, serialNumber].filter(Boolean).join(", "),
      ...(vendorId === undefined || productId === undefined ? {} : { usb: `0x${vendorId}:0x${productId}` }),
    }));
  return [...real, ...boardPorts()].toSorted((a, b) => (a.path < b.path ? -1 : 1));
}

/** The ports of a bench's machine, kept where the interface can see them. */
export class PortList {
  private told = "[]";

  constructor(
    private readonly benchId: number,
    private readonly fence: string,
  ) {}

  async look(): Promise<readonly PortSeen[]> {
    const ports = await portsHere();
    const text = JSON.stringify(ports);
    if (text !== this.told) await keepPorts(this.benchId, this.fence, ports);
    this.told = text;
    return ports;
  }

  /** A port that is there, and is no other bay's. Nothing but a serial port of this machine is ever opened. */
  async require(wanted: string, bayNo: number): Promise<string> {
    const ports = await this.look();
    if (!ports.some(({ path: at }) => at === wanted))
      throw new ProblemError({
        code: "port-none",
        message: "The machine of this bench has no such port",
        detail: wanted,
        hint: "Plug the board in, then choose from the list",
      });
    const taken = (await portsOfBays(this.benchId)).find(({ no, port }) => port === wanted && no !== bayNo);
    if (taken)
      throw new ProblemError({
        code: "port-taken",
        message: `Bay ${taken.no} is this port already`,
        detail: wanted,
        hint: `Let go of it in bay ${taken.no} first`,
      });
    return wanted;
  }
}
