import type { Picture, Sheet } from "@/api/client";

/** What a station's picture is drawn from. */
export type PictureProps = { picture: Picture; sheet: Sheet };
