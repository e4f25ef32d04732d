/** A stretch of the picture: left, top, right, bottom. */
export type Box = [number, number, number, number];

/** Whether a box lies over none of the others but the one at ``own``. */
export function apartFrom(box: Box, others: readonly Box[], own = -1): boolean {
  return others.every(
    (one, at) => at === own || box[2] <= one[0] || one[2] <= box[0] || box[3] <= one[1] || one[3] <= box[1],
  );
}
