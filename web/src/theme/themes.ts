/** Three themes: dark for the evening, light for the day, field for the ridge at night (red on black alone). */
export type ThemeName = "dark" | "light" | "red";

export interface Tones {
  ink: string;
  bench: string;
  panel: string;
  line: string;
  chalk: string;
  quiet: string;
  brass: string;
  onBrass: string;
  glass: string;
  ok: string;
  warning: string;
  problem: string;
}

export const THEMES: Record<ThemeName, Tones> = {
  dark: {
    ink: "#14161b",
    bench: "#1a1d23",
    panel: "#20242c",
    line: "#3a414e",
    chalk: "#ece7db",
    quiet: "#a3abb8",
    brass: "#e3b566",
    onBrass: "#1a1508",
    glass: "#86b7d8",
    ok: "#55b79d",
    warning: "#dd9a33",
    problem: "#f0705a",
  },
  light: {
    ink: "#f5f1e8",
    bench: "#ece6d9",
    panel: "#fdfbf6",
    line: "#c9c0ae",
    chalk: "#23211c",
    quiet: "#57534a",
    brass: "#7d5200",
    onBrass: "#fffaf0",
    glass: "#275f84",
    ok: "#12664f",
    warning: "#855000",
    problem: "#b2301a",
  },
  red: {
    ink: "#000000",
    bench: "#070000",
    panel: "#100000",
    line: "#5a0d08",
    chalk: "#ff4a3d",
    quiet: "#e8382c",
    brass: "#ff5a4c",
    onBrass: "#000000",
    glass: "#d93327",
    ok: "#f24034",
    warning: "#f24034",
    problem: "#ff5a4c",
  },
};

export const FONT = "'Atkinson Hyperlegible Next Variable', system-ui, sans-serif";

export function applyTones(name: ThemeName): void {
  const root = document.documentElement;
  root.dataset.theme = name;
  for (const [tone, value] of Object.entries(THEMES[name])) {
    root.style.setProperty(`--${tone.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)}`, value);
  }
}
