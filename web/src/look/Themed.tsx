import { ConfigProvider, theme, type ThemeConfig } from "antd";
import { useMemo, type ReactNode } from "react";
import { say } from "../shared/say";
import { libraryWords } from "./words";
import { useTheme } from "./theme";

const BARLOW = '"Barlow", "DejaVu Sans", sans-serif';

/** Ant Design's tokens from the roles of tokens.css, so that a colour stands in one place. */
function configure(evening: boolean): ThemeConfig {
  const style = getComputedStyle(document.documentElement);
  const role = (name: string) => style.getPropertyValue(`--${name}`).trim();
  return {
    algorithm: evening ? theme.darkAlgorithm : theme.defaultAlgorithm,
    token: {
      colorPrimary: role("blue"),
      colorError: role("bad"),
      colorSuccess: role("good"),
      colorWarning: role("brass"),
      colorLink: role("blue"),
      colorText: role("ink"),
      colorTextHeading: role("ink"),
      colorTextSecondary: role("muted"),
      colorTextTertiary: role("muted"),
      colorTextDescription: role("muted"),
      colorTextPlaceholder: role("muted"),
      colorTextLightSolid: role("on-blue"),
      colorBgContainer: role("card"),
      colorBgElevated: role("card"),
      colorBgLayout: role("ground"),
      colorBorder: role("field"),
      colorBorderSecondary: role("line"),
      colorSplit: role("line"),
      controlItemBgActive: role("blue-light"),
      controlItemBgHover: role("blue-light"),
      borderRadius: 3,
      borderRadiusLG: 3,
      borderRadiusSM: 2,
      boxShadow: "none",
      boxShadowSecondary: `0 0 0 1px ${role("field")}`,
      boxShadowTertiary: "none",
      fontFamily: '"B612", "DejaVu Sans", sans-serif',
      fontSize: 16,
      fontSizeSM: 14,
      fontSizeLG: 20,
      controlHeight: 44,
      controlHeightLG: 56,
      controlHeightSM: 36,
      motionDurationMid: "0.12s",
      motionDurationSlow: "0.16s",
      motion: !window.matchMedia("(prefers-reduced-motion: reduce)").matches,
    },
    components: {
      Button: {
        defaultColor: role("blue"),
        defaultBorderColor: role("blue"),
        defaultBg: role("card"),
        defaultShadow: "none",
        primaryShadow: "none",
        dangerShadow: "none",
        fontWeight: 600,
        contentFontSizeLG: 20,
        paddingInline: 18,
      },
      Table: {
        headerBg: "transparent",
        headerColor: role("muted"),
        headerSplitColor: "transparent",
        headerBorderRadius: 0,
        borderColor: role("line"),
        rowHoverBg: role("blue-light"),
        cellPaddingBlockSM: 8,
        cellPaddingInlineSM: 10,
        cellFontSizeSM: 16,
      },
      Modal: { titleFontSize: 20, contentBg: role("card"), headerBg: role("card") },
      Collapse: { headerBg: "transparent", contentBg: "transparent" },
      Tabs: { titleFontSize: 16, horizontalItemPadding: "10px 0" },
      Segmented: {
        itemSelectedBg: role("blue"),
        itemSelectedColor: role("on-blue"),
        trackBg: role("card"),
        itemColor: role("ink"),
      },
      Checkbox: { controlInteractiveSize: 22 },
      Slider: { railSize: 6, handleSize: 18, handleSizeHover: 20, controlSize: 18 },
      Descriptions: { labelColor: role("muted"), labelBg: "transparent" },
    },
  };
}

/** Everything below is drawn in the shop's own look, by day or in the evening. */
export function Themed({ children }: { children: ReactNode }) {
  const name = useTheme();
  const config = useMemo(() => configure(name === "evening"), [name]);
  const words = useMemo(() => libraryWords(), []);
  return (
    <ConfigProvider
      locale={words}
      theme={config}
      button={{ autoInsertSpace: false, style: { fontFamily: BARLOW } }}
      modal={{ styles: { header: { fontFamily: BARLOW } } }}
      renderEmpty={() => <p className="muted small">{say("Nothing here yet.")}</p>}
    >
      {children}
    </ConfigProvider>
  );
}
