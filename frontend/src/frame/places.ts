/** The places, in the order of the work; the board is where Ferox opens. */
export const PLACES = [
  { name: "Servers", at: "/servers" },
  { name: "Tasks", at: "/tasks" },
  { name: "Agents", at: "/agents" },
  { name: "Board", at: "/board" },
  { name: "Compare", at: "/compare" },
] as const;
