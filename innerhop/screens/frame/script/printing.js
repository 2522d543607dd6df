// A button that prints the screen.
export function printing() {
  return {
    print() {
      window.print();
    },
  };
}
