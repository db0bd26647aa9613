import type { NextConfig } from "next";

const nextConfig: NextConfig = {
  agentRules: false,
  poweredByHeader: false,
  turbopack: { root: __dirname },
  serverExternalPackages: ["sequelize", "umzug", "@node-rs/argon2", "pg-listen"],
  experimental: { serverActions: { bodySizeLimit: "1mb" } },
};

export default nextConfig;
