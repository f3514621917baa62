import type { NextConfig } from "next";

/** The build of `npm run bench` has a page of its own, and stands apart: the product is built without it. */
const bench = process.env.ELKHORN_BENCH === "1";
const dev = process.env.NODE_ENV === "development";

const config: NextConfig = {
  pageExtensions: bench ? ["bench.tsx", "tsx", "ts"] : ["tsx", "ts"],
  distDir: bench ? ".next-bench" : ".next",
  experimental: {
    // Imports may be 50 MB; the proxy would cut bodies at 10 MB with a mere warning. The upload route itself answers 413 above 50 MB.
    proxyClientMaxBodySize: "56mb",
    serverActions: { bodySizeLimit: "2mb" },
    // A page is loaded when somebody first asks for it: the server starts in half the time and holds less.
    preloadEntriesOnStart: false,
    // What runs on the server keeps its names, so that a line of the log says which function failed; without maps the build takes half as long.
    turbopackMinify: { server: false },
    turbopackSourceMaps: dev,
    turbopackInputSourceMaps: dev,
    turbopackFileSystemCacheForBuild: false,
  },
  turbopack: { root: import.meta.dirname },
  // `npm run check` looks at types, tests and scripts included; the scripts that build for use or for stories do not look twice.
  typescript: { ignoreBuildErrors: process.env.ELKHORN_TYPES === "checked" },
  poweredByHeader: false,
  serverExternalPackages: ["better-sqlite3-13", "pino", "pdfkit"],
  reactStrictMode: true,
  devIndicators: false,
};

export default config;
