// The list of findings. One group opened shows its places, what its fix would change, and lets
// some be chosen, mended or set aside. After each the list is read anew.
import { get, post, Told } from "../../frame/script/ask.js";
import { doing } from "../../frame/script/doing.js";
import { joined } from "../../frame/script/joined.js";
import { keepHere, keptHere } from "../../frame/script/kept_here.js";

export function findings() {
  return joined(doing(), {
    // A rule, or a place, that was set aside counts again.
    takeBack(event) {
      const { url, aside } = event.currentTarget.dataset;
      return this.act(url, { aside: Number(aside) }, "");
    },
    // A rule that is a matter of taste is looked for on this site, or no more.
    askFor(event) {
      const { url, rule, on } = event.currentTarget.dataset;
      return this.act(url, { rule, on: on === "yes" }, "");
    },
  });
}

// The findings that are open, by what each is of.
const openHere = () => keptHere("open") ?? [];

const MANY = 10; // places
const SEVERAL = 2; // where readers see that it was done
const NOT_LOOKED = { spots: [], notes: [], pages: 0 };

export function finding() {
  const parts = { data: {} };
  return {
    isOpen: false,
    isLoading: false,
    places: [],
    more: 0,
    chosen: [],
    looked: NOT_LOOKED,
    reason: "",
    isAsiding: false,
    ownTrouble: "",

    init() {
      parts.data = { ...this.$el.dataset };
      // Back from a place on its page.
      if ("seen" in parts.data) {
        this.open();
        this.$el.scrollIntoView({ block: "nearest" });
      } else if (openHere().includes(this.name)) {
        this.open();
      }
      this.reason = keptHere("reasons")?.[this.name] ?? "";
      this.isAsiding = this.reason !== "";
    },
    get name() {
      return `${parts.data.rule} ${parts.data.cause}`;
    },
    toggle() {
      if (this.isOpen) this.close();
      else this.open();
    },
    close() {
      this.isOpen = false;
      keepHere("open", openHere().filter((one) => one !== this.name));
    },
    async open() {
      this.isOpen = true;
      keepHere("open", [...new Set([...openHere(), this.name])]);
      if (!this.places.length) await this.load();
    },
    async load() {
      const { rule, cause, page, placesUrl } = parts.data;
      Object.assign(this, { isLoading: true, ownTrouble: "" });
      try {
        const found = await get(placesUrl, { rule, cause, from: this.places.length, ...(page && { page }) });
        Object.assign(this, { places: [...this.places, ...found.places], more: found.more });
        this.chooseAgain();
      } catch (problem) {
        this.refused(problem);
      }
      this.isLoading = false;
    },
    refused(problem) {
      if (!(problem instanceof Told)) throw problem;
      this.ownTrouble = problem.message;
    },

    choose(event) {
      const key = Number(event.currentTarget.value);
      this.chosen = event.currentTarget.checked ? [...this.chosen, key] : this.chosen.filter((one) => one !== key);
      this.looked = NOT_LOOKED;
      this.keepChosen();
    },
    // By what each place is: it has another number when it has moved on its page.
    keepChosen() {
      const listed = new Set(this.places.map((one) => one.known));
      const later = this.more ? (keptHere("chosen")?.[this.name] ?? []).filter((one) => !listed.has(one)) : [];
      const known = [...this.places.filter((one) => this.isChosen(one)).map((one) => one.known), ...later];
      keepHere("chosen", { ...keptHere("chosen"), [this.name]: known });
    },
    chooseAgain() {
      const known = keptHere("chosen")?.[this.name] ?? [];
      this.ownTrouble = "";
      const found = this.places.filter((one) => known.includes(one.known));
      this.chosen = found.map((one) => one.key);
      const gone = this.more ? 0 : known.length - found.length;
      if (gone) this.ownTrouble = `${gone} of the places that you chose ${gone === 1 ? "is" : "are"} not here any more.`;
    },
    isChosen(place) {
      return this.chosen.includes(place.key);
    },
    // What was chosen and is dealt with: nobody is told that it is gone.
    forget(known = null) {
      const left = known === null ? [] : (keptHere("chosen")?.[this.name] ?? []).filter((one) => one !== known);
      keepHere("chosen", { ...keptHere("chosen"), [this.name]: left });
    },
    get hasChosen() {
      return this.chosen.length > 0;
    },
    get chosenWords() {
      const { length } = this.chosen;
      return length ? `${length} chosen` : "all of them";
    },
    get fixSent() {
      const { rule, cause, revision, page } = parts.data;
      const all = !this.hasChosen;
      return { rule, cause, all, findings: all ? null : this.chosen, only: page ? Number(page) : null, revision: Number(revision) };
    },
    // What changes in many places is seen before it is done.
    get mendVerb() {
      const { label, count } = parts.data;
      return this.isMany && this.hasLooked ? `Yes, in all ${count} places` : label;
    },
    get isMany() {
      return Number(parts.data.count) >= ("shows" in parts.data ? SEVERAL : MANY) && !this.hasChosen;
    },
    async mend() {
      if (!this.isMany || this.hasLooked) return this.fix();
      await this.open();
      await this.look();
      if (this.hasLooked) this.$nextTick(() => this.$refs.mend.scrollIntoView({ block: "nearest" }));
    },
    fix() {
      const { fixUrl, undoUrl } = parts.data;
      return this.act(fixUrl, this.fixSent, undoUrl, "browser" in parts.data, () => this.forget());
    },
    fixOne(place) {
      const { fixUrl, undoUrl } = parts.data;
      return this.act(fixUrl, { ...this.fixSent, all: false, findings: [place.key] }, undoUrl, "browser" in parts.data, () => this.forget(place.known));
    },
    // What the fix would change, before it is made.
    async look() {
      this.ownTrouble = "";
      try {
        this.looked = await post(parts.data.fixUrl, { ...this.fixSent, look: true });
      } catch (problem) {
        this.refused(problem);
      }
    },
    get hasLooked() {
      return this.looked.spots.length > 0;
    },
    get lookedWords() {
      const { pages } = this.looked;
      return `What changes in the markup, on ${pages} page${pages === 1 ? "" : "s"}${pages > 6 ? "; the first 6 are shown" : ""}`;
    },

    startAside() {
      this.isAsiding = true;
      this.$nextTick(() => this.$refs.reason.focus());
    },
    stopAside() {
      this.isAsiding = false;
      this.reason = "";
      this.keepReason();
    },
    keepReason() {
      keepHere("reasons", { ...keptHere("reasons"), [this.name]: this.reason });
    },
    get asideVerb() {
      return this.hasChosen ? `Set ${this.chosen.length} aside` : "Set this rule aside on the whole site";
    },
    saveAside() {
      const { rule, asideUrl, undoUrl } = parts.data;
      const sent = this.hasChosen ? { findings: this.chosen } : { rule };
      return this.act(asideUrl, { ...sent, reason: this.reason }, undoUrl, false, () => {
        this.forget();
        this.reason = "";
        this.keepReason();
      });
    },
  };
}
