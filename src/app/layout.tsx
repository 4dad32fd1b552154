import "@fontsource-variable/archivo/wdth.css";
import "@fontsource-variable/jetbrains-mono";
import "./globals.css";
import type { Metadata } from "next";
import type { ReactNode } from "react";
import { Shell } from "@/ui/shell/shell";

export const metadata: Metadata = { title: "Pale Halo", description: "Measured lens and filter character on footage" };

export default function Layout({ children }: { children: ReactNode }) {
  return (
    <html lang="en" data-theme="room">
      <body>
        <Shell>{children}</Shell>
      </body>
    </html>
  );
}
