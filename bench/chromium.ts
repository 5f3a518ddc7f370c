/** Debian's Chromium as it runs here, also as root. */
export const CHROMIUM_ARGS = ['--no-sandbox', '--headless', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync']
