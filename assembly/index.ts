// The one module of kernels. Memory is laid out by the host (src/core/engine/memory.ts); kernels own none of it.
export { blur, blurTwice, reduce } from "./convolve";
export { gather } from "./expand";
export { mixCells } from "./cells";
export { pointwise } from "./pointwise";
export { geometryMap } from "./geometry";
export { split } from "./planes";
export { warp } from "./warp";
export { drawApart } from "./apart";
export { crop } from "./crop";
export { resize } from "./resize";
export { contrast, contrastLow } from "./contrast";
export { iris, pupilPlanes, pupilReach } from "./pupil";
export { arc } from "./arc";
export { skew, smearRows, trailRows, unskew } from "./smear";
export { count } from "./count";
export { deflate, deflateRoom } from "./deflate";
export {
  addDifferences,
  joinBytes,
  joinHalves,
  joinWords,
  splitBytes,
  splitHalves,
  splitWords,
  takeDifferences,
} from "./lines";
