export * from "./flash";
export * from "./flash-map";
export * from "./kinds";
export { SET_INTERFACE, type ControlReply, type ControlRequest } from "./dfu/protocol";
export * from "./loader";
export * from "./run-flash";
export * from "./transports";
