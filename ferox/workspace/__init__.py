"""A workspace: a folder of agents, servers, tasks and stand-ins, loaded and cross-checked."""

from ferox.workspace.load import Workspace, load_workspace
from ferox.workspace.problems import Problem, WorkspaceError

__all__ = ["Problem", "Workspace", "WorkspaceError", "load_workspace"]
