/** A JSON value. */
export type Json = null | boolean | number | string | Json[] | { [key: string]: Json };
