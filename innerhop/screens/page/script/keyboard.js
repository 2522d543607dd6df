// The keyboard's way through the page screen: what each key does, how parts of the page
// are gone through, and where the keyboard is after something was done.
import { rowOf } from "./outline.js";

// Single letters that work anywhere but in a field, while a part or nothing is chosen.
const SINGLE = {
  n: (screen) => screen.stepStop(1),
  p: (screen) => screen.stepStop(-1),
  ".": (screen) => screen.walk("next"),
  ",": (screen) => screen.walk("previous"),
  o: (screen) => screen.goOut(),
  i: (screen) => screen.goIn(),
  t: (screen) => screen.turnTags(),
  m: (screen) => screen.markNow(),
  r: (screen) => screen.renameNow(),
  1: (screen) => screen.goToRegion("ruler"),
  2: (screen) => screen.goToRegion("sheet"),
  3: (screen) => screen.goToRegion("desk"),
};
const FORMS = new Set(["visitors", "menu", "style", "movePage", "convert"]);
const MAKERS = new Set(["list", "many"]);
// On the sheet as a whole, arrows go through its parts.
const ON_SHEET = { ArrowDown: "next", ArrowUp: "previous", ArrowRight: "in", ArrowLeft: "out" };

export function keyboard(parts) {
  return {
    singleKeys: (localStorage.getItem("innerhop single keys") ?? "on") === "on",
    isInSheet: false, // whether the keyboard has gone into the page itself
    walkMessage: "",
    walkedTo: null,

    shortcut(event) {
      const { key, ctrlKey, metaKey, shiftKey, altKey } = event;
      const command = (ctrlKey || metaKey) && key.toLowerCase() === "z";
      if (event.target.closest?.("dialog[open]")) return; // it closes itself
      const typing = event.target.closest?.("input, textarea, select");
      if (typing && key !== "Escape") return;
      if (typing) return this.leaveField(event.target);
      if (event.defaultPrevented || (!command && (ctrlKey || metaKey || altKey))) return;
      if (this.act({ key, command, shift: shiftKey })) event.preventDefault();
    },
    act({ key, command, shift }) {
      if (command) {
        if (shift) this.redo();
        else this.undo();
      } else if (key === "Escape") {
        if (this.isInSheet) this.goToRegion("sheet");
        else this.closeInnermost();
      } else if (key === "/" && this.singleKeys) {
        window.focus();
        document.getElementById("find").focus();
      } else if (key === "?" && this.singleKeys) this.help();
      else if (this.singleKeys && this.hears(key) && SINGLE[key.toLowerCase()]) return SINGLE[key.toLowerCase()](this) ?? true;
      else return false;
      return true;
    },
    // Letters typed past a field are no orders where a form with choices is open: they would
    // throw away what was chosen. What is typed for one part alone waits there (see drafts.js).
    hears(key) {
      return /\d/.test(key) || !(FORMS.has(this.machine.doing) || MAKERS.has(this.chosen.kind));
    },
    // The first Escape leaves the field, and what was typed stays.
    leaveField(field) {
      field.blur();
      this.$refs.desk.focus();
    },
    // Then what is being done is given up; then nothing is chosen any more.
    closeInnermost() {
      if (this.isStyling) this.stopStyle();
      else if (this.pageMode) this.stopPage();
      else if (this.isMaking) this.leaveMaking();
      else if (this.mode) this.stopMode();
      else this.chooseNothing();
    },
    goOut() {
      if (this.isMoving) this.walk("out");
      else if (this.isPlace) this.stepOut();
      else return false;
    },
    goIn() {
      if (this.isMoving) this.walk("in");
      else if (this.isPlace) this.stepIn();
      else return false;
    },
    renameNow() {
      if (!this.markHere || this.isLocked) return false;
      window.focus();
      this.startRename();
    },
    // The field for the chosen part's ID; with nothing chosen, for the first that has none.
    markNow() {
      window.focus();
      if (this.isPlace && !this.markHere) return this.openIdField(true);
      const unmarked = this.raw.sections.filter(({ mark }) => !mark);
      const next = unmarked.find(({ number }) => number > (this.chosen.number ?? -1)) ?? unmarked[0];
      if (next) this.choose("section", next.number, { scroll: true, focus: true });
    },

    // Going through the page.

    // The next section, or marked part, or the one before.
    stepStop(step) {
      const { stops } = parts;
      const from = this.walkedFrom ?? -1;
      const at = stops.findIndex(({ number }) => number === from);
      const after = stops.findIndex(({ number }) => number > from);
      const beside = step > 0 ? after : (after < 0 ? stops.length : after) - 1;
      const next = stops[at >= 0 ? at + step : beside];
      if (!next) this.walkMessage = step > 0 ? "That was the last section." : "That was the first section.";
      else this.goTo(next.number, next.what ? "place" : "section");
    },
    // Any part: the one beside the chosen one, what is around it, what is in it.
    walk(step) {
      parts.link.tell("walk", { number: this.walkedFrom, step });
    },
    // While a mark is being moved, what is gone through is where it may go.
    get walkedFrom() {
      return this.isMoving ? (this.moving.to ?? this.markHere.number) : this.chosen.number;
    },
    walked({ number, step }) {
      if (number === null) {
        this.walkMessage = { next: "That was the last part.", previous: "That was the first part.", in: "Nothing is in this part that could be chosen.", out: "That is the whole page." }[step];
        return;
      }
      const isSection = this.raw.sections.some((one) => one.number === number);
      this.goTo(number, isSection ? "section" : "place", ["in", "out"].includes(step));
    },
    goTo(number, kind, stepping = false) {
      this.walkMessage = "";
      this.walkedTo = number;
      if (!this.isMoving) return this.choose(kind, number, { scroll: true, stepping });
      parts.link.tell("light", { numbers: [number], scroll: true });
      this.moveTo(number);
    },
    // What is said of the part that the keyboard has come to.
    get walkSays() {
      if (this.walkMessage) return this.walkMessage;
      if (!this.isPlace || this.walkedTo !== this.chosen.number) return "";
      const mark = this.markHere ? `, #${this.markHere.value}` : ", no mark yet";
      return `${this.placeKind ? `${this.placeKind}: ` : ""}${this.placeTitle}${mark}`;
    },

    // Ruler, sheet and desk.

    goToRegion(name) {
      window.focus();
      this.showPane(name);
      if (name !== "sheet") this.leaveSheet();
      const arrive = () => {
        if (name === "ruler") this.$refs.ruler.querySelector('[tabindex="0"]')?.focus();
        else if (name === "sheet") this.$refs.sheetStop.focus();
        else (this.deskTitle() ?? this.$refs.desk).focus({ preventScroll: true });
      };
      // At once where all three are seen, since the next key may come at once too.
      if (window.innerWidth >= 900) arrive();
      else this.soon(arrive);
    },
    // The sheet is one stop for the Tab key, unless the keyboard goes in.
    keyOnSheet(event) {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      const step = ON_SHEET[event.key];
      if (step) this.walk(step);
      else if (event.key === "Enter") this.enterSheet();
      else return;
      event.preventDefault();
    },
    enterSheet() {
      this.isInSheet = true;
      parts.link.frame.tabIndex = 0;
      parts.link.frame.focus();
    },
    leaveSheet() {
      this.isInSheet = false;
      parts.link.frame.tabIndex = -1;
    },

    // Where the keyboard is after something was done.

    // Back at the outline: at the part that one comes from.
    backToRow(number) {
      this.soon(() => {
        const at = document.activeElement;
        if (at !== document.body && at !== this.$refs.desk && at.checkVisibility()) return;
        const row = number === null ? null : rowOf(this.$refs.outline, number);
        (row ?? this.deskTitle())?.focus({ preventScroll: !row });
      });
    },
    // At the title of what the desk shows, unless it is somewhere that is still there.
    goOn() {
      this.soon(() => this.deskTitle()?.focus({ preventScroll: true }));
    },
    regain() {
      this.soon(() => {
        const at = document.activeElement;
        if (at === document.body || !at.checkVisibility() || at.disabled) this.deskTitle()?.focus({ preventScroll: true });
      });
    },
    deskTitle() {
      return [...this.$refs.desk.querySelectorAll("[data-title]")].find((one) => one.checkVisibility());
    },
    // What has just been begun: its first field, else its first button.
    goToActivity(name) {
      this.soon(() => {
        const place = [...this.$refs.desk.querySelectorAll(`[data-doing~="${name}"]`)].find((one) => one.checkVisibility());
        const all = [...(place?.querySelectorAll("input, select, textarea, button") ?? [])].filter((one) => one.checkVisibility());
        (all.find((one) => one.matches("input:checked, select, input:not([type=radio])")) ?? all[0])?.focus();
      });
    },
    help() {
      this.$refs.help.showModal();
    },
    keepSingleKeys() {
      localStorage.setItem("innerhop single keys", this.singleKeys ? "on" : "off");
    },
  };
}
