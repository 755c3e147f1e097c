"""How Debian's headless shell of Chromium is started, for page tests and pictures: nothing of its own goes out."""

EXECUTABLE = "/usr/bin/chromium-headless-shell"
ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
