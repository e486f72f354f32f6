// Who works at this device, and as whom entries are written.
import { read } from "./store";

export const WHO = "kumpan.who";
export const whoHere = () => read(WHO, "").trim() || "you";
