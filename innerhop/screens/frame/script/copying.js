// Copying what is to be entered elsewhere. What became of it stands in `answer` or `trouble`.
export function copying() {
  return {
    trouble: "",
    answer: "",

    async copy(text) {
      try {
        await navigator.clipboard.writeText(text);
        Object.assign(this, { trouble: "", answer: `Copied ${text}` });
      } catch {
        this.trouble = "The browser does not let this page copy. Select the entry and copy it by hand.";
      }
    },
  };
}
