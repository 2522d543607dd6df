// One object of several, with their getters as getters. Two that call something the same are
// refused: one of them would quietly be without it.
export function joined(...parts) {
  const whole = {};
  for (const part of parts) {
    const names = Object.getOwnPropertyDescriptors(part);
    const twice = Object.keys(names).filter((name) => Object.hasOwn(whole, name));
    if (twice.length) throw new Error(`Named twice: ${twice.join(", ")}`);
    Object.defineProperties(whole, names);
  }
  return whole;
}
