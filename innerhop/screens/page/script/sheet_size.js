// How wide the sheet is, and how large it is drawn.

const remembered = (name, otherwise) => localStorage.getItem(`innerhop ${name}`) ?? otherwise;

const NARROW = 640; // px of the window: there a sheet drawn as on a phone can be read

export function sheetSize(parts) {
  return {
    width: Number(remembered("width", window.innerWidth < NARROW ? "390" : "1280")),
    zoom: remembered("zoom", "fit"),
    showsTags: remembered("tags", "on"),
    room: { width: 640, height: 640 },
    pane: "sheet", // what is seen where there is room for one only

    isPane(name) {
      return this.pane === name ? "true" : "false";
    },
    showPane(name) {
      this.pane = name;
      this.$nextTick(() => this.fit());
    },
    // What was chosen is worked on at the desk.
    goToDesk() {
      if (window.innerWidth < 900) this.pane = "desk";
    },

    get screen() {
      return this.state.widths.find(({ width }) => width === this.width) ?? this.state.widths[2];
    },
    get scale() {
      return this.zoom === "fit" ? Math.min(1, this.room.width / this.width) : 1;
    },
    fit() {
      const { clientWidth, clientHeight } = this.$refs.column;
      this.room = { width: clientWidth - 24, height: clientHeight - 14 };
      this.size();
    },
    // The sheet is as wide as the reader's screen, and drawn smaller where it must be.
    size() {
      const { width, scale, room } = this;
      Object.assign(parts.link.frame.style, {
        width: `${width}px`, height: `${room.height / scale}px`, transform: `scale(${scale})`,
      });
      Object.assign(this.$refs.paper.style, {
        width: `${Math.round(width * scale)}px`, height: `${room.height}px`,
      });
      this.look();
    },
    setWidth(width) {
      this.width = width;
      localStorage.setItem("innerhop width", String(width));
      this.size();
    },
    setZoom(zoom) {
      this.zoom = zoom;
      localStorage.setItem("innerhop zoom", zoom);
      this.size();
    },
    // The tags that say what is marked can make way for the page itself.
    setTags(shows) {
      this.showsTags = shows;
      localStorage.setItem("innerhop tags", shows);
      this.look();
    },
    turnTags() {
      this.setTags(this.showsTags === "on" ? "off" : "on");
    },
    get tagsPressed() {
      return this.showsTags === "on" ? "true" : "false";
    },
    isWidth(width) {
      return this.width === width ? "true" : "false";
    },
    isZoom(zoom) {
      return this.zoom === zoom ? "true" : "false";
    },
  };
}
