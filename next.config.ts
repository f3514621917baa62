import type { NextConfig } from "next";

const config: NextConfig = {
  // Imports may be 50 MB; the proxy would cut bodies at 10 MB with a mere warning. The upload route itself answers 413 above 50 MB.
  experimental: { proxyClientMaxBodySize: "56mb", serverActions: { bodySizeLimit: "2mb" } },
  poweredByHeader: false,
  serverExternalPackages: ["better-sqlite3-13", "pino"],
  reactStrictMode: true,
  devIndicators: false,
};

export default config;
