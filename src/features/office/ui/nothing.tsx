import type { ReactNode } from "react";

/** For an address that leads nowhere; what stands around it leads on. */
export const Nothing = ({ children }: { children: ReactNode }) => (
  <div className="sheet max-w-xl p-8">
    <h1>There is nothing at this address</h1>
    <p className="quiet mt-2">{children}</p>
  </div>
);
