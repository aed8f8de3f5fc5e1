let call: () => void = () => undefined;

/** whenHurried says what shows changes at once. */
export const whenHurried = (run: () => void) => (call = run);

/** hurry shows at once what has changed: one has done something, and looks what came of it. */
export const hurry = () => call();
