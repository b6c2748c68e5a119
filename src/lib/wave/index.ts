export { columnWorkspace, readColumns, drawList, laneScene } from './scene.js';
export type { Viewport, Placement, Columns, DrawItem } from './scene.js';
export { readInks, hatch, paintPlanned, paintMeasured, paintDisagreement } from './painter.js';
export type { Inks, Band } from './painter.js';
export { rulerMarks, timeLabel } from './ruler.js';
export type { Mark } from './ruler.js';
