"""The parcel: what a machine of a cluster needs to carry out a run, sent once by its content.

It holds the snapshot and the files of the workspace that agents and live servers run. It never
holds `.env`, a secret or an environment: interpreters are where the agents' files say, JavaScript's
modules where they are in the workspace, and a machine has its secrets from its own environment.
"""

from __future__ import annotations

import fcntl
import hashlib
import io
import json
import os
import stat
import tarfile
import tempfile
import zlib
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from ferox.core.json_values import compact_json
from ferox.formats.agent import AgentFile
from ferox.intake.files import read_bytes
from ferox.intake.limits import IntakeError
from ferox.runs.cluster.address import ClusterError
from ferox.runs.snapshot import Snapshot
from ferox.workspace.vault import SecretUse, Vault, current_vault

LARGEST_CODE = 64 * 1024 * 1024
"""Bytes of all files of agents and servers together."""
MODULES = "node_modules"
LEFT_OUT = ("__pycache__", MODULES, "site-packages")
"""Folders of which nothing is sent, besides those that begin with a dot."""
SNAPSHOT = "snapshot.json"
WORKSPACE = "workspace"


class ParcelTooLarge(ClusterError):
    """The files of agents and servers take more room than a parcel has."""


@dataclass(frozen=True)
class Parcel:
    """What is sent, packed; `hash` names it by its content."""

    hash: str
    packed: bytes

    @property
    def is_whole(self) -> bool:
        """Whether it is what its name says."""
        return _hash(self.packed) == self.hash


def make_parcel(snapshot: Snapshot, root: Path) -> Parcel:
    """Pack what a machine needs of a run.

    Raises:
        ParcelTooLarge: the agents' files are too much.
    """
    document = snapshot.document()
    for name, agent in snapshot.agents.items():
        document["agents"][name].update(_where_it_is(agent, root))
    uses = [use for use in snapshot.secret_uses() if current_vault().is_agreed(use.secret, use.to)]
    files = sorted(_files_to_send(snapshot, root))
    body = {
        "snapshot": document,
        "agreed": [[use.secret, use.to] for use in uses],
        "modules": _module_folders(files, root),
    }
    packed = io.BytesIO()
    with tarfile.open(fileobj=packed, mode="w") as tar:
        _add(tar, SNAPSHOT, compact_json(body).encode())
        left = LARGEST_CODE
        for path in files:
            try:
                content = read_bytes(root / path, left)
            except IntakeError:
                raise ParcelTooLarge(
                    f"the files of agents and servers take more than {LARGEST_CODE >> 20} MB, up to"
                    f" `{path}`: move what agents do not run out of `agents/`"
                ) from None
            left -= len(content)
            _add(tar, f"{WORKSPACE}/{path}", content, (root / path).stat().st_mode & 0o755)
    content = zlib.compress(packed.getvalue())
    return Parcel(_hash(content), content)


def _hash(packed: bytes) -> str:
    return hashlib.sha256(packed).hexdigest()[:32]


def _add(tar: tarfile.TarFile, name: str, content: bytes, mode: int = 0o644) -> None:
    entry = tarfile.TarInfo(name)
    entry.size, entry.mode = len(content), mode
    tar.addfile(entry, io.BytesIO(content))


def _where_it_is(agent: AgentFile, root: Path) -> dict[str, Any]:
    """An agent's interpreter and command with the places of what is not sent: where they are here
    is where every machine has to have them."""
    found: dict[str, Any] = {}
    if agent.python and not Path(agent.python).is_absolute():
        found["python"] = str(root.absolute() / agent.python)
    if agent.command:
        base = root / (agent.cwd or "")
        found["command"] = [
            word if _may_send((base / word), root) or not (base / word).exists()
            else str((base / word).absolute())
            for word in agent.command
        ]  # fmt: skip
    return found


def _files_to_send(snapshot: Snapshot, root: Path) -> set[str]:
    """The files under `agents/`, and those that files of agents and servers name."""
    found = set(_below(root / "agents", root))
    words: list[Path] = []
    for agent in snapshot.agents.values():
        base = root / (agent.cwd or "")
        words += [base / word for word in agent.command or ()]
        words += [root / agent.entry.rpartition(":")[0]] if agent.entry else []
    for file in snapshot.servers.values():
        ways = [file.live, *(file.variants or {}).values()]
        for to in ways:
            for word in (to.command if to else None) or ():
                if isinstance(word, str):
                    words.append(root / (getattr(to, "cwd", None) or "") / word)
    for path in words:
        if path.is_file() and _may_send(path, root):
            # With what lies beside it, which it may import.
            around = path.parent if path.parent.resolve() != root.resolve() else path
            found |= set(_below(around, root))
    return found


def _module_folders(files: list[str], root: Path) -> dict[str, str]:
    """The folders of JavaScript's modules beside what is sent or above it, by their places in the
    workspace: where they are here is where every machine has to have them."""
    around = {folder for file in files for folder in Path(file).parents}
    return {
        str(folder / MODULES): str((root / folder / MODULES).absolute())
        for folder in sorted(around)
        if (root / folder / MODULES).is_dir()
    }


def _below(folder: Path, root: Path) -> Iterator[str]:
    if folder.is_file():
        if _may_send(folder, root):
            yield os.path.relpath(folder, root)
        return
    for here, folders, files in os.walk(folder):
        folders[:] = [f for f in folders if not _is_left_out(f) and not _is_environment(here, f)]
        for name in files:
            path = Path(here, name)
            if _may_send(path, root):
                yield os.path.relpath(path, root)


def _is_left_out(name: str) -> bool:
    return name.startswith(".") or name in LEFT_OUT


def _is_environment(here: str, folder: str) -> bool:
    return Path(here, folder, "pyvenv.cfg").exists()


def _may_send(path: Path, root: Path) -> bool:
    """Whether a file is one of the workspace's own: neither hidden, nor of an environment, nor
    a link to somewhere else."""
    inside = Path(os.path.relpath(path, root))
    if inside.parts[:1] == ("..",) or any(_is_left_out(part) for part in inside.parts):
        return False
    if any((root / parent / "pyvenv.cfg").exists() for parent in inside.parents):
        return False
    try:
        return path.resolve().is_relative_to(root.resolve()) and stat.S_ISREG(path.stat().st_mode)
    except OSError:
        return False


# On a machine of the cluster.


@dataclass(frozen=True)
class UnpackedParcel:
    """What a machine has of a run: the folder that is its workspace there, what is run, where its
    secrets may go, and what has to be there besides."""

    folder: Path
    snapshot: Snapshot
    agreed: tuple[SecretUse, ...]
    modules: tuple[Path, ...]
    """Where JavaScript's modules have to be."""

    def vault(self) -> Vault:
        """The secrets of this machine that the run may use."""
        return MachineVault(self.agreed)


class MachineVault(Vault):
    """The secrets that a machine of a cluster has in its own environment."""

    def __init__(self, agreed: tuple[SecretUse, ...]) -> None:
        super().__init__(None)
        self._names = {use.secret for use in agreed}
        self._uses = {(use.secret, use.to) for use in agreed}

    def secret_values(self) -> dict[str, str]:
        """Every secret that has a value here."""
        return {name: os.environ[name] for name in sorted(self._names) if name in os.environ}

    def origins(self) -> Mapping[str, str]:  # type: ignore[override]
        """All are of the machine's environment."""
        return dict.fromkeys(self.secret_values(), "environment")

    def _agreed(self) -> set[tuple[str, str]]:
        return self._uses


def parcels_folder() -> Path:
    """Where this user's parcels are on this machine, which nobody else may read or write.

    Raises:
        PermissionError: somebody else made it.
    """
    folder = Path(tempfile.gettempdir()) / f"ferox-parcels-{os.getuid()}"
    folder.mkdir(mode=0o700, exist_ok=True)
    found = folder.lstat()
    if not stat.S_ISDIR(found.st_mode) or found.st_uid != os.getuid() or found.st_mode & 0o077:
        raise PermissionError(f"{folder} is not this user's own: remove it")
    return folder


def has_parcel(hashed: str) -> bool:
    """Whether a parcel is on this machine."""
    return (parcels_folder() / hashed / SNAPSHOT).is_file()


def unpack_parcel(parcel: Parcel) -> None:
    """Unpack a parcel on this machine, once for all its processes.

    Raises:
        ValueError: it is not what its name says.
    """
    if not parcel.is_whole:
        raise ValueError("a parcel that is not what its name says")
    folder = parcels_folder()
    with (folder / f"{parcel.hash}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if has_parcel(parcel.hash):
            return
        aside = Path(tempfile.mkdtemp(dir=folder))
        with tarfile.open(fileobj=io.BytesIO(zlib.decompress(parcel.packed))) as tar:
            tar.extractall(aside, filter="data")
        (aside / WORKSPACE).mkdir(exist_ok=True)
        for place, modules in _body_of(aside)["modules"].items():
            (aside / WORKSPACE / place).symlink_to(modules)
        aside.rename(folder / parcel.hash)


def open_parcel(hashed: str) -> UnpackedParcel:
    """A parcel that is on this machine."""
    folder = parcels_folder() / hashed
    body = _body_of(folder)
    snapshot = Snapshot.model_validate(body["snapshot"])
    agreed = tuple(SecretUse(secret, to) for secret, to in body["agreed"])
    modules = tuple(Path(path) for path in body["modules"].values())
    return UnpackedParcel(folder / WORKSPACE, snapshot, agreed, modules)


def _body_of(folder: Path) -> dict[str, Any]:
    body: dict[str, Any] = json.loads((folder / SNAPSHOT).read_text())
    return body
