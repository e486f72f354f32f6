// What Chakra's own components look like here: of its several dozen recipes the four in use, in our measures.
import { defineRecipe, defineSlotRecipe } from "@chakra-ui/react";
import { dialogAnatomy, tableAnatomy } from "@chakra-ui/react/anatomy";

const text = (size: string, line: string) => ({ fontSize: size, lineHeight: line });

export const heading = defineRecipe({
  className: "chakra-heading",
  base: { fontFamily: "heading", fontWeight: 600, ...text("20px", "30px") },
});

/** The close button of a dialog. */
export const button = defineRecipe({
  className: "chakra-button",
  base: {
    display: "inline-flex",
    alignItems: "center",
    justifyContent: "center",
    flexShrink: "0",
    cursor: "pointer",
    userSelect: "none",
    h: "44px",
    minW: "44px",
    borderRadius: "mark",
    _hover: { bg: "channel" },
    _icon: { w: "20px", h: "20px", flexShrink: "0" },
  },
});

const layer = (below: number) => `calc(1500 + var(--layer-index, 0) - ${below})`;
const whole = { position: "fixed", left: 0, top: 0, w: "100dvw", h: "100dvh" } as const;

export const dialog = defineSlotRecipe({
  slots: dialogAnatomy.keys(),
  className: "chakra-dialog",
  base: {
    backdrop: { ...whole, bg: "rgba(10,14,16,0.55)", zIndex: layer(1) },
    positioner: {
      ...whole,
      display: "flex",
      justifyContent: "center",
      alignItems: "center",
      overflow: "auto",
      pointerEvents: "auto",
      overscrollBehaviorY: "none",
      zIndex: layer(0),
    },
    content: {
      display: "flex",
      flexDirection: "column",
      position: "relative",
      width: "100%",
      maxW: "512px",
      mx: "auto",
      my: "64px",
      outline: 0,
      ...text("14px", "20px"),
      zIndex: layer(0),
    },
    header: { display: "flex", gap: "8px", flex: 0, px: "24px", pt: "24px", pb: "16px" },
    body: { flex: "1", px: "24px", pt: "8px", pb: "24px" },
    title: { fontWeight: 600, ...text("18px", "28px") },
  },
});

const cell = { textAlign: "start", px: "8px", py: "8px", borderBottomWidth: "1px" } as const;

export const table = defineSlotRecipe({
  slots: tableAnatomy.keys(),
  className: "chakra-table",
  base: {
    root: { borderCollapse: "collapse", width: "100%", verticalAlign: "top", ...text("14px", "20px") },
    cell: { ...cell, alignItems: "center" },
    columnHeader: { ...cell, fontWeight: 500 },
  },
});
