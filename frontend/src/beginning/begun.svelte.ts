/** A workspace that was just made: what to know of it, until the page is left. */

import type { Begun } from "../api/client";

export const begun = $state<{ made: Begun | null }>({ made: null });
