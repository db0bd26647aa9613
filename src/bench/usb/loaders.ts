import { WebUSB } from "usb";
import type { Catalogue } from "@/core/catalog";
import { dfuInterfaceOf, openDfu, type OpenDfu } from "@/bench/usb/dfu-device";
import type { WebUsbBus, WebUsbDevice } from "@/bench/usb/webusb";

/** The machine's own bus. A machine without one has no devices. */
export function systemBus(): WebUsbBus {
  const webusb = new WebUSB({ allowAllDevices: true });
  // the package types its devices by the browser's globals, which a server has not
  const devices = () => webusb.getDevices() as Promise<unknown> as Promise<readonly WebUsbDevice[]>;
  return { getDevices: () => devices().catch(() => []) };
}

/** The loaders on a bus, given out to the bays that wait for one: each to one bay at a time. */
export class UsbLoaders {
  private readonly held = new Map<object, OpenDfu>();
  private turn: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly bus: WebUsbBus,
    private readonly load: () => Promise<Catalogue>,
  ) {}

  /** The loader that a bay has, or one that nobody has; undefined while there is none. */
  find(bay: object): Promise<OpenDfu | undefined> {
    // one bay after the other: two that look at once would open the same device
    const found = this.turn.then(() => this.look(bay));
    this.turn = found.catch(() => undefined);
    return found;
  }

  private async look(bay: object): Promise<OpenDfu | undefined> {
    const devices = await this.bus.getDevices();
    const mine = this.held.get(bay);
    if (mine && !mine.gone() && devices.includes(mine.device)) return mine;
    await this.letGo(bay);
    const taken = new Set([...this.held.values()].map(({ device }) => device));
    const known = [...(await this.load()).processors.values()].flatMap(({ loaders }) =>
      loaders.flatMap((loader) => (loader.kind === "usb" ? [`${loader.vendorId}:${loader.productId}`] : [])),
    );
    for (const device of devices) {
      const isOurs = known.includes(`${device.vendorId}:${device.productId}`) && dfuInterfaceOf(device);
      if (!isOurs || taken.has(device)) continue;
      const opened = await openDfu(device);
      if (!opened.ok) continue;
      this.held.set(bay, opened.value);
      return opened.value;
    }
    return undefined;
  }

  async letGo(bay: object): Promise<void> {
    const mine = this.held.get(bay);
    this.held.delete(bay);
    await mine?.close();
  }
}
