// The map: which kinds of hop are drawn, and whose hops stand out.

export function siteMap() {
  return {
    filter(event) {
      const { value, checked } = event.target;
      for (const hop of this.$refs.map.querySelectorAll(`g[data-kind="${value}"], .map-hop[data-kind="${value}"]`)) {
        hop.classList.toggle("off", !checked);
      }
    },
    light(page) {
      const { map } = this.$refs;
      map.classList.toggle("aiming", page !== null);
      for (const hop of map.querySelectorAll(".map-hop, .map-ribbon")) {
        const touches = hop.dataset.starts === String(page) || hop.dataset.ends === String(page);
        hop.classList.toggle("lit", touches);
      }
    },
  };
}
