import type { PictureOf } from "@/api/client";
import type { PictureProps } from "@/shared/picture";
import { Capture } from "./Capture";

/** A capture of the encoder, whether its teeth are known or not. */
export default function EncoderTried({ picture }: PictureProps) {
  const p = picture as PictureOf<"encoder">;
  if (p.tacho) return null;
  return <Capture teeth={p.teeth ?? 0} />;
}
