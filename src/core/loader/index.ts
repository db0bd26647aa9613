export { DFU, type UsbPort } from "./dfu/open";
export type { LoaderDescriptor } from "./dfu/protocol";
export * from "./flash";
export * from "./loader";
export * from "./run-flash";
