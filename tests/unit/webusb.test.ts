import fc from "fast-check";
import { SerialSocket } from "@/bench/serial/socket";
import { functionalOf, openDfu } from "@/bench/usb/dfu-device";
import { UsbLoaders } from "@/bench/usb/loaders";
import type { WebUsbDevice } from "@/bench/usb/webusb";
import { loaderIdOf, processorOf } from "@/core/catalog";
import { askLoader, openLoader, partsOf, runFlash, type LoaderPorts } from "@/core/loader";
import { readImageFile } from "@/core/image";
import { problemOf, valueOf } from "@/core/problem";
import { linkTo, SimBoard, virtualClock, type SimLink } from "@/core/sim";
import { descriptorBytes, WebUsbBoard } from "../support/webusb-board";
import { catalogue, CHIP, imageFile } from "../support/workshop";

const PROCESSOR = processorOf(catalogue(), "Nettle 20");

/** A board in its USB loader, as a device on a bus. */
async function onBus(interfaceNumber = 0): Promise<{ device: WebUsbBoard; link: SimLink; board: SimBoard }> {
  const model = catalogue().models.get("corsley-slate");
  if (!model) throw new Error("no model");
  const board = new SimBoard({ model, chipId: CHIP, firstPort: 1 }, catalogue());
  board.manufacture(imageFile("heddle-22", "CSLATE-B"));
  const link = linkTo(board, virtualClock());
  board.plug(0, { button: true });
  await link.clock.waitUntil(2_000_000);
  return { device: new WebUsbBoard(board, link, interfaceNumber), link, board };
}

const busOf = (...devices: WebUsbBoard[]) => ({
  getDevices: () => Promise.resolve(devices.filter(({ there }) => there)),
});
/** Only USB is there; its waits are the board's own time, so that a flash takes no longer than its computation. */
const portsOf = (usb: LoaderPorts["usb"], link: SimLink) =>
  ({ usb: { ...usb, wait: (ms: number) => link.usb.wait(ms), nowUs: () => link.usb.nowUs() } }) as LoaderPorts;

describe("a USB loader through the WebUSB interface", () => {
  it.each([0, 3])("is written, sector by sector, read back equal, and left; interface %d", async (interfaceNumber) => {
    const { device, link, board } = await onBus(interfaceNumber);
    const { seen, port } = valueOf(await openDfu(device));
    expect(seen).toMatchObject({ transport: "usb", serial: loaderIdOf(CHIP, PROCESSOR), canUpload: true });
    const ports = portsOf(port, link);
    expect((await askLoader(ports, seen, [...catalogue().processors.values()]))?.id).toBe(seen.serial);
    const loader = openLoader(ports, seen, PROCESSOR);
    const image = valueOf(readImageFile(imageFile("heddle-23", "CSLATE-B"), PROCESSOR));
    const parts = valueOf(partsOf(image, loader.spaces));
    expect((await runFlash(loader, parts, () => undefined)).ok).toBe(true);
    const at = image.start - PROCESSOR.flashStart;
    expect(Buffer.compare(board.flash.bytes.subarray(at, at + image.bytes.length), image.bytes)).toBe(0);
    await loader.leave();
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    expect(link.presence().kind).toBe("console");
  });

  it("a cable that comes out at any transfer ends as a lost link, not as a hang", async () => {
    for (const after of [1, 2, 5, 17, 60]) {
      const { device, link, board } = await onBus();
      const opened = valueOf(await openDfu(device));
      let left = after;
      const cutting: LoaderPorts["usb"] = {
        ...opened.port,
        control: (request) => {
          if (left-- === 0) board.unplug(link.clock.nowUs());
          return opened.port.control(request);
        },
      };
      const loader = openLoader(portsOf(cutting, link), opened.seen, PROCESSOR);
      const [space] = loader.spaces;
      if (!space) throw new Error("no space");
      const ended = await loader.read(space).then(
        () => "read",
        (error: unknown) => problemOf(error).code,
      );
      expect([after, ended]).toEqual([after, left < 0 ? "link-lost" : "read"]);
      if (left < 0) expect(opened.gone()).toBe(true);
    }
  });

  it("a device that is no loader, or that does not answer when opened, is refused in words", async () => {
    const { device, board, link } = await onBus();
    board.unplug(link.clock.nowUs());
    expect(await openDfu(device)).toMatchObject({ ok: false, problem: { code: "usb-held" } });
    const keyboard: Partial<WebUsbDevice> = { vendorId: 1, productId: 2, configurations: [] };
    expect(await openDfu(keyboard as WebUsbDevice)).toMatchObject({ ok: false, problem: { code: "usb-no-loader" } });
  });

  it("finds the functional descriptor among drawn bytes, and never walks for ever", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 16 }), fc.integer({ min: 1, max: 65_535 }), fc.boolean(), (n, size, up) => {
        expect(functionalOf(descriptorBytes(n, size, up ? 0x03 : 0x01))).toEqual({
          transferSizeBytes: size,
          canUpload: up,
        });
      }),
    );
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 400 }), (bytes) => {
        const found = functionalOf(bytes);
        expect(found === undefined || found.transferSizeBytes <= 0xffff).toBe(true);
      }),
    );
  });
});

describe("loaders that several bays wait for", () => {
  it("are given to one bay each, also when they look at once; one that is let go of is another's", async () => {
    const { device } = await onBus();
    const usb = new UsbLoaders(busOf(device), () => Promise.resolve(catalogue()));
    const bays = [{}, {}, {}];
    const found = await Promise.all(bays.map((bay) => usb.find(bay)));
    expect(found.filter(Boolean)).toHaveLength(1);
    const [first, second] = bays;
    if (!first || !second) throw new Error("no bays");
    expect(await usb.find(first)).toBe(found[0]);
    await usb.letGo(first);
    expect(await usb.find(second)).toBeDefined();
    expect(await usb.find(first)).toBeUndefined();
  });
});

describe("a bay that is a serial port, when its board is in its USB loader", () => {
  it("shows the loader; another bay does not get the same one; back on its port it lets it go", async () => {
    const { device, board, link } = await onBus();
    const usb = new UsbLoaders(busOf(device), () => Promise.resolve(catalogue()));
    const nobody = () => Promise.resolve(undefined);
    const [one, two] = ["none-such-1", "none-such-2"].map((name) => new SerialSocket(`/dev/${name}`, nobody, usb));
    if (!one || !two) throw new Error("no sockets");
    const showing = async () => {
      for (let i = 0; i < 100; i++) {
        const found = [one, two].filter((socket) => socket.link.presence().kind === "loader");
        if (found.length > 0) return found;
        await new Promise((resolve) => setTimeout(resolve, 50));
      }
      return [];
    };
    const [holder, ...others] = await showing();
    await new Promise((resolve) => setTimeout(resolve, 900));
    expect(others.length + (await showing()).length).toBe(1);
    expect(holder?.link.presence()).toMatchObject({ kind: "loader", transport: "usb", port: "USB" });
    expect(holder?.face().line?.state).toBe("absent");
    board.unplug(link.clock.nowUs());
    for (let i = 0; i < 60 && holder?.link.presence().kind !== "none"; i++)
      await new Promise((resolve) => setTimeout(resolve, 50));
    expect(holder?.link.presence()).toEqual({ kind: "none" });
    const asked = await holder?.link.usb.control({ request: 3, direction: "in", value: 0, length: 6 }).catch(problemOf);
    expect(asked).toMatchObject({ code: "socket-serial" });
    await Promise.all([one.letGo(), two.letGo()]);
  });
});
