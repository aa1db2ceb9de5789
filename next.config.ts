import type { NextConfig } from 'next';

const config: NextConfig = {
  // Each build has a folder of its own (bin/common.sh), so that a running server keeps its files.
  distDir: process.env.NEXT_DIST_DIR ?? '.next',
  outputFileTracingRoot: import.meta.dirname,
  poweredByHeader: false,
  devIndicators: false,
  // Types are checked by bin/test; checking them here again would only make a newcomer wait.
  typescript: { ignoreBuildErrors: true },
  experimental: {
    // A screen is loaded when it is first asked for: the workshop is open a second sooner.
    preloadEntriesOnStart: false,
    // They are not needed, and they are two thirds of what is built.
    serverSourceMaps: false,
    // Else every build would add its folder to tsconfig.json.
    strictRouteTypes: true,
  },
  // Stations had other addresses; what was bookmarked, printed or filed with them leads on.
  redirects: async () => [
    { source: '/runs/:path*', destination: '/capacity/:path*', permanent: true },
    { source: '/hold/:path*', destination: '/self-discharge/:path*', permanent: true },
  ],
  serverExternalPackages: ['pg', 'pg-copy-streams', 'papaparse', 'piscina'],
};

export default config;
