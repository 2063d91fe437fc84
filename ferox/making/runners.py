"""Programs that start servers, as launch lines name them: what of a line is the server's own."""

from __future__ import annotations

RUNNERS = frozenset(
    "npx uvx pipx bunx pnpm pnpx yarn npm uv node python python3 py deno bun docker podman env sudo"  # noqa: SIM905
    " cmd exec run dlx tool go cargo java dotnet ruby php bash sh".split()
)
"""Words that stand before the server's own name."""
PREPARING = frozenset(
    {
        *(f"npm {how}" for how in ("install", "i", "ci", "add")),
        *(f"{runner} {how}" for runner in ("yarn", "pnpm") for how in ("install", "add", "build")),
        *(
            f"{runner} run {how}"
            for runner in ("npm", "pnpm", "yarn")
            for how in ("build", "compile")
        ),
        *(
            f"{runner} install"
            for runner in ("pip", "pip3", "pipx", "go", "cargo", "uv tool", "uv pip")
        ),
        *("uv sync", "uv add", "uv venv", "bun install", "bun add", "go build", "cargo build"),
        *(f"docker {how}" for how in ("pull", "build", "compose", "login")),
        *(f"{python} -m {how}" for python in ("python", "python3") for how in ("venv", "pip")),
        *("git", "brew", "apt", "apt-get", "mkdir", "cp", "curl", "wget", "source", "."),
    }
)
"""How commands begin that prepare a server, such as an installation, and start none."""
_PACKAGES = "--registry --prefix -w --workspace"
_CONTAINERS = (
    "-e --env --env-file -v --volume -p --publish --name --network --mount -w --workdir -u --user"
    " --entrypoint --platform --add-host -l --label"
)
_UV = "--with --python -p --directory --project --index-url --with-requirements --extra --env-file"
_OPTIONS = {
    "docker": _CONTAINERS,
    "podman": _CONTAINERS,
    "uv": _UV,
    "uvx": _UV,
    "node": "-r --require --import --loader --env-file",
    "npx": _PACKAGES,
    "bunx": _PACKAGES,
    "pnpx": _PACKAGES,
    "npm": "--prefix --dir --cwd -C",
    "pnpm": "--prefix --dir --cwd -C",
    "yarn": "--prefix --dir --cwd -C",
    "python": "-X -W",
    "python3": "-X -W",
    "java": "-cp -classpath",
    "deno": "--config -c --import-map",
}
VALUE_OPTIONS = {runner: frozenset(options.split()) for runner, options in _OPTIONS.items()}
"""Options of each runner whose value is the next word."""
NAMING_OPTIONS = frozenset({"-m", "--from", "-p", "--package", "-jar"})
"""Options whose value names the server, where they are not the runner's for something else."""
GENERIC_FILES = frozenset({"index", "main", "server", "cli", "__main__", "app", "start"})
"""Names of programs that say nothing of the server."""


def is_preparing(words: list[str]) -> bool:
    """Whether a command only prepares what another starts."""
    return any(" ".join(words[:count]) in PREPARING for count in (1, 2, 3))
