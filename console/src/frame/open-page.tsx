import type { ReactNode } from "react";
import { Mark } from "./mark";

/** The frame of a page for whoever is not signed in: the name, and the page under it. */
export function OpenPage({ children }: { children: ReactNode }) {
  return (
    <main className="mx-auto flex max-w-2xl flex-col px-4 py-8">
      <p className="mb-6 flex items-center gap-2 text-lead font-bold">
        <Mark /> Glenmoor
      </p>
      {children}
    </main>
  );
}
