// What every page gains from scripts; without any of it every form still works.

import "./page/typed.js";
import "./page/inplace.js";
import "./page/outbox.js";
import "./page/strip.js";
import "./page/arriving.js";
import "./page/parts.js";
import "./page/keys.js";
import "./page/live.js";
