/** One line a figure: `name value unit`. */
export type Report = (name: string, value: number, unit: string) => void;

export const report: Report = (name, value, unit) => console.log(`${name} ${value.toPrecision(4)} ${unit}`);
