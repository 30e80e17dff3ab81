// What every page does beside links and forms, by purpose.
import "./page/person.js";
import "./page/drawer.js";
import "./page/draft.js";
import "./page/complaints.js";
import "./page/rail.js";
import "./page/printing.js";
import "./page/finding.js";
import "./page/keys.js";
import "./page/forms.js";
import "./page/mapping.js";
import "./page/pasting.js";
import "./page/trying.js";
