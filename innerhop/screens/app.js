// The screens' script. Alpine's build without eval, so that the strictest
// Content-Security-Policy holds.
import Alpine from "@alpinejs/csp";
import { bringIn } from "./bring_in/script/bring_in.js";
import { changes } from "./changes/script/changes.js";
import { finding, findings } from "./findings/script/findings.js";
import { siteOffers } from "./findings/script/site_offers.js";
import { finder } from "./frame/script/finder.js";
import { keepForms } from "./frame/script/kept_forms.js";
import { drawsParts } from "./frame/script/parts.js";
import { copySheet } from "./hand_over/script/copy_sheet.js";
import { job } from "./jobs/script/job.js";
import { jobsBar } from "./jobs/script/jobs_bar.js";
import { siteMap } from "./map/script/site_map.js";
import { menus } from "./menus/script/menus.js";
import { news } from "./news/script/news.js";
import { pageScreen } from "./page/script/page_screen.js";
import { measurer } from "./rehearsal/script/measurer.js";
import { rehearsal } from "./rehearsal/script/rehearsal.js";

Alpine.data("finder", finder);
Alpine.data("bringIn", bringIn);
Alpine.data("pageScreen", pageScreen);
Alpine.data("siteMap", siteMap);
Alpine.data("menus", menus);
Alpine.data("copySheet", copySheet);
Alpine.data("measurer", measurer);
Alpine.data("rehearsal", rehearsal);
Alpine.data("changes", changes);
Alpine.data("news", news);
Alpine.data("job", job);
Alpine.data("jobsBar", jobsBar);
Alpine.data("findings", findings);
Alpine.data("finding", finding);
Alpine.data("siteOffers", siteOffers);
drawsParts(Alpine);
keepForms();
Alpine.start();
