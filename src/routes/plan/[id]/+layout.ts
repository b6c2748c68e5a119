/** Everything in a plan is derived and drawn in the browser. */
export const ssr = false;
