// Kumpan's own face on Chakra: limestone paper and a dusk theme, hairlines, one persimmon.
import { createSystem, defaultBaseConfig, defineConfig, defineGlobalStyles } from "@chakra-ui/react";

import { button, dialog, heading, table } from "./recipes";

const pair = (base: string, dusk: string) => ({ value: { base, _dark: dusk } });

export const system = createSystem(
  defaultBaseConfig,
  defineConfig({
    preflight: true,
    cssVarsPrefix: "chakra",
    cssVarsRoot: ":where(html)",
    globalCss: defineGlobalStyles({
      html: {
        fontSize: "16px",
        lineHeight: 1.5,
        "--global-color-border": "colors.hair",
        "--global-font-mono": "fonts.mono",
      },
      body: {
        bg: "paper",
        color: "ink",
        fontFamily: "body",
        fontSize: "16px",
        lineHeight: 1.4,
        fontVariantNumeric: "tabular-nums",
      },
      ":is(a, button, input, select, [tabindex]):focus-visible": {
        outline: "3px solid",
        outlineColor: "focus",
        outlineOffset: "2px",
      },
      "input[type=checkbox]": { accentColor: "ink", width: "18px", height: "18px" },
      "::placeholder": { color: "muted", opacity: 1 },
    }),
    theme: {
      breakpoints: { sm: "480px", md: "768px", lg: "1024px", xl: "1280px" },
      recipes: { heading, button },
      slotRecipes: { dialog, table },
      tokens: {
        fonts: {
          body: { value: "'Atkinson Hyperlegible Next Variable', system-ui, sans-serif" },
          mono: { value: "ui-monospace, Menlo, Consolas, monospace" },
          heading: { value: "'Atkinson Hyperlegible Next Variable', system-ui, sans-serif" },
        },
        radii: { mark: { value: "2px" } },
      },
      semanticTokens: {
        colors: {
          paper: pair("#F4F0E6", "#14191C"),
          ink: pair("#161D21", "#F0EADB"),
          muted: pair("#46525A", "#B4BCBD"),
          hair: pair("#D8D1C0", "#384247"),
          channel: pair("#EAE4D4", "#20282C"),
          act: pair("#FF8A5B", "#FF8A5B"),
          onAct: pair("#161D21", "#161D21"),
          caution: pair("#8F2F0C", "#FFB08A"),
          focus: pair("#8F2F0C", "#FFB08A"),
        },
      },
    },
  }),
);
