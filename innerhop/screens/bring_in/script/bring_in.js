// Sending files or markup, with a bar that says how far it has come.
import { get, guardAnew, linesOf, SIGNED_OUT } from "../../frame/script/ask.js";

export function bringIn() {
  return {
    busy: false,
    done: 0,
    total: 1,
    message: "",
    signedOut: false,
    names: "",
    isOver: false,
    sending: null,
    suggested: "",
    hasAddress: false,

    get progress() {
      return this.done ? `${this.done} of ${this.total}` : "Sending …";
    },
    get dropClass() {
      return this.isOver ? "border-here bg-tint-a" : "";
    },
    over() {
      this.isOver = true;
    },
    out() {
      this.isOver = false;
    },
    drop(event) {
      this.isOver = false;
      this.$refs.files.files = event.dataTransfer.files;
      this.chose();
    },
    chose() {
      const files = [...this.$refs.files.files].map((file) => file.name);
      const more = files.length > 4 ? ` and ${files.length - 4} more` : "";
      this.names = files.slice(0, 4).join(", ") + more;
      this.message = "";
    },
    // As long as nobody has typed an address, it follows the title.
    addressTyped() {
      this.hasAddress = this.$refs.address.value !== "";
    },
    async suggestAddress(event) {
      const { value, dataset } = event.target;
      if (this.hasAddress || this.$refs.address.value !== this.suggested) return;
      const found = await get(dataset.url, { title: value }).catch(() => null); // nothing hangs by it
      if (!found || this.hasAddress || event.target.value !== value) return;
      this.$refs.address.value = this.suggested = found.address;
    },
    async send(event) {
      const form = event.target;
      this.busy = true;
      Object.assign(this, { message: "", signedOut: false });
      this.done = 0;
      this.sending = new AbortController();
      try {
        const response = await this.sent(form);
        if (response.redirected) Object.assign(this, { message: SIGNED_OUT, signedOut: true });
        else await this.read(response);
      } catch (problem) {
        const stopped = problem.name === "AbortError";
        this.message = stopped
          ? "Stopped. Nothing was brought in."
          : "The server did not take this. Check the connection, then send again.";
      } finally {
        this.busy = false;
      }
    },
    // Who has signed in anew in another tab has another guard against forgery.
    async sent(form) {
      const response = await this.sentOnce(form);
      if (response.status !== 403 || !(await guardAnew())) return response;
      form.elements.csrfmiddlewaretoken.value = document.body.dataset.csrf;
      return this.sentOnce(form);
    },
    sentOnce(form) {
      return fetch(form.action, {
        method: "POST",
        body: new FormData(form),
        headers: { Accept: "application/json" },
        signal: this.sending.signal,
      });
    },
    stop() {
      this.sending?.abort();
    },
    async read(response) {
      for await (const line of linesOf(response)) this.take(JSON.parse(line));
    },
    take(step) {
      if (step.url) window.location.assign(step.url);
      else if (step.message) this.message = step.message;
      else [this.done, this.total] = [step.done, step.total];
    },
  };
}
