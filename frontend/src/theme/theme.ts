import { createTheme, type MantineColorsTuple } from "@mantine/core";

/** The interface has no hue: every colour that a component may choose is one of these greys. */
const grey: MantineColorsTuple = [
  "#f2f2f2",
  "#e4e4e4",
  "#d4d4d4",
  "#c6c6c6",
  "#b4b4b4",
  "#8a8a8a",
  "#5c5c5c",
  "#3d3d3d",
  "#2a2a2a",
  "#1a1a1a",
];

const hues = ["dark", "gray", "red", "pink", "grape", "violet", "indigo", "blue", "cyan", "green", "lime", "yellow"];

export const theme = createTheme({
  colors: { ...Object.fromEntries([...hues, "orange", "teal"].map((name) => [name, grey])), grey },
  primaryColor: "grey",
  primaryShade: 8,
  white: "#f2f2f2",
  black: "#1a1a1a",
  fontFamily: '"Atkinson Hyperlegible Next Variable", sans-serif',
  fontFamilyMonospace: '"Atkinson Hyperlegible Mono Variable", monospace',
  headings: { fontFamily: '"Atkinson Hyperlegible Next Variable", sans-serif', fontWeight: "700" },
  defaultRadius: 4,
  focusRing: "never",
  respectReducedMotion: true,
});
