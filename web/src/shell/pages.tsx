/* The pages' own scripts: each is fetched when its station is gone to, beside the reply. */

import { memo, type ComponentType } from "react";
import type { Picture } from "@/api/client";
import type { PictureProps } from "@/shared/picture";
import { ready } from "@/shared/ready";

type Kind = Picture["kind"];

const OF_KIND = {
  motor: ready<PictureProps>(() => import("../stations/motor/MotorPicture")),
  load: ready<PictureProps>(() => import("../stations/load/LoadPicture")),
  servo: ready<PictureProps>(() => import("../stations/load/ServoPicture")),
  dc_load: ready<PictureProps>(() => import("../stations/load/DcLoadPicture")),
  supply: ready<PictureProps>(() => import("../stations/supply/SupplyPicture")),
  driver: ready<PictureProps>(() => import("../stations/driver/DriverPicture")),
  stage: ready<PictureProps>(() => import("../stations/power_stage/StagePicture")),
  signals: ready<PictureProps>(() => import("../stations/signals/SignalsPicture")),
  wiring: ready<PictureProps>(() => import("../stations/wiring/WiringPicture")),
  encoder: ready<PictureProps>(() => import("../stations/encoder/EncoderPicture")),
  loop: ready<PictureProps>(() => import("../stations/loop/LoopPicture")),
  bench: ready<PictureProps>(() => import("../stations/bench/BenchPage")),
};
const LOG = ready<object>(() => import("../stations/log/LogPage"));
const ENCODER_TRIED = ready<PictureProps>(() => import("../stations/encoder/EncoderTried"));
const LOOP_TRIED = ready<PictureProps>(() => import("../stations/loop/LoopTried"));

export const PICTURES: Partial<Record<Kind, ComponentType<PictureProps>>> = Object.fromEntries(
  Object.entries(OF_KIND).map(([kind, page]) => [kind, memo(page.Ready)]),
);

/** What is tried out at a station: below both columns, over their whole width. */
export const TRIED: Partial<Record<Kind, ComponentType<PictureProps>>> = {
  encoder: memo(ENCODER_TRIED.Ready),
  loop: memo(LOOP_TRIED.Ready),
};

export const LogPage = LOG.Ready;

const AT_STATION: Record<string, { fetch: () => void }[]> = {
  motor: [OF_KIND.motor],
  load: [OF_KIND.load, OF_KIND.servo, OF_KIND.dc_load],
  supply: [OF_KIND.supply],
  driver: [OF_KIND.driver],
  power_stage: [OF_KIND.stage],
  signals: [OF_KIND.signals],
  wiring: [OF_KIND.wiring],
  encoder: [OF_KIND.encoder, ENCODER_TRIED],
  loop: [OF_KIND.loop, LOOP_TRIED],
  bench: [OF_KIND.bench],
  log: [LOG],
};

/** Fetches what a station's page will be drawn by. */
export function fetchPage(station: string): void {
  for (const page of AT_STATION[station] ?? []) page.fetch();
}
