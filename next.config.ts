import type { NextConfig } from "next";
import { BODY_BYTES } from "./src/server/web/limits";

const nextConfig: NextConfig = {
  agentRules: false,
  poweredByHeader: false,
  turbopack: { root: __dirname },
  serverExternalPackages: ["sequelize", "umzug", "@node-rs/argon2", "pg-listen", "yauzl"],
  // types are checked by bin/test, over all of the project and not only over what is built
  typescript: { ignoreBuildErrors: true },
  // a page that is not for one's role says so
  experimental: { authInterrupts: true, serverActions: { bodySizeLimit: "1mb" }, proxyClientMaxBodySize: BODY_BYTES },
};

export default nextConfig;
