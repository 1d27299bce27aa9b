import { ConfigProvider, theme } from "antd";
import type { ReactNode } from "react";

/** Ant Design in the shop's own look; wrapped only around the pages that use it. */
export function Antd({ children }: { children: ReactNode }) {
  const evening = document.documentElement.dataset.theme === "evening";
  const role = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();
  return (
    <ConfigProvider
      theme={{
        algorithm: evening ? theme.darkAlgorithm : theme.defaultAlgorithm,
        token: {
          colorPrimary: role("blue"),
          colorText: role("ink"),
          colorBgContainer: role("card"),
          colorBorder: role("field"),
          borderRadius: 3,
          fontFamily: "B612, sans-serif",
          fontSize: 16,
          controlHeight: 44,
          boxShadow: "none",
        },
        components: { Table: { headerBg: role("card"), headerColor: role("muted"), cellFontSize: 14 } },
      }}
    >
      {children}
    </ConfigProvider>
  );
}
