import { App, ConfigProvider, theme } from "antd";
import { createContext, type ReactNode, useContext, useEffect, useMemo, useState } from "react";
import { onDevice } from "../kept/keeping";
import { applyTones, FONT, THEMES, type ThemeName } from "./themes";

const KEY = "theme";
const ORDER: ThemeName[] = ["dark", "light", "red"];
const Context = createContext<{ name: ThemeName; set: (name: ThemeName) => void; toggleRed: () => void }>({
  name: "dark",
  set: () => {},
  toggleRed: () => {},
});

export const useTheme = () => useContext(Context);

function remembered(): ThemeName {
  if (location.pathname.startsWith("/phone") || location.pathname.startsWith("/field")) return "red"; // in the field it is dark, also before the passcode
  const kept = onDevice.read(KEY);
  // The red theme went by another name once; whoever had it has it still.
  const name = (kept === "field" ? "red" : kept) as ThemeName | null;
  return name && ORDER.includes(name) ? name : "dark";
}

/** Sets the tones as CSS variables and as the component library's tokens, so that both look like Dravel. */
export function ThemeProvider({ children }: { children: ReactNode }) {
  const [name, setName] = useState<ThemeName>(remembered);
  const [before, setBefore] = useState<ThemeName>("dark");
  useEffect(() => {
    applyTones(name);
    onDevice.write(KEY, name);
  }, [name]);
  // Chosen in another window: this one follows, so that no bright page stands beside a red one.
  useEffect(() => {
    const follow = (event: StorageEvent) => event.key?.endsWith(`.${KEY}`) && setName(remembered());
    window.addEventListener("storage", follow);
    return () => window.removeEventListener("storage", follow);
  }, []);
  const value = useMemo(
    () => ({
      name,
      set: setName,
      toggleRed: () => {
        if (name !== "red") setBefore(name);
        setName(name === "red" ? before : "red");
      },
    }),
    [name, before],
  );
  const tones = THEMES[name];
  const token = {
    colorPrimary: tones.brass,
    colorInfo: tones.brass,
    colorLink: tones.brass,
    colorBgBase: tones.ink,
    colorTextBase: tones.chalk,
    colorBgContainer: tones.panel,
    colorBgElevated: tones.panel,
    colorBorder: tones.line,
    colorBorderSecondary: tones.line,
    colorBorderDisabled: tones.line,
    colorBgContainerDisabled: tones.bench,
    colorTextDisabled: tones.quiet,
    colorSplit: tones.line,
    ...(name === "red" ? { colorFillSecondary: tones.panel, colorFillTertiary: tones.panel } : {}),
    colorIcon: tones.quiet,
    colorError: tones.problem,
    colorErrorText: tones.problem,
    colorWarning: tones.warning,
    colorSuccess: tones.ok,
    colorTextSecondary: tones.quiet,
    colorTextTertiary: tones.quiet,
    colorTextDescription: tones.quiet,
    colorTextPlaceholder: tones.quiet,
    colorTextHeading: tones.chalk,
    colorTextLightSolid: tones.onBrass,
    fontFamily: FONT,
    borderRadius: 4,
    controlHeight: name === "red" ? 44 : 30,
    motion: false,
  };
  return (
    <Context.Provider value={value}>
      <ConfigProvider
        theme={{ algorithm: name === "light" ? theme.defaultAlgorithm : theme.darkAlgorithm, token }}
        button={{ autoInsertSpace: false }}
      >
        <App notification={{ placement: "bottomRight", duration: 8 }}>{children}</App>
      </ConfigProvider>
    </Context.Provider>
  );
}
