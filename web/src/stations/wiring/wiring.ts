import type { PictureOf } from "@/api/client";

/** The wiring of the whole build, as the service tells it. */
export type Wiring = PictureOf<"wiring">;
