import htmx from 'htmx.org';
import './account.js';
import { watchGrid } from './change/grid.js';
import { watchChoices } from './choose.js';
import { watchDocs } from './docs.js';
import { watchEarly } from './early.js';
import { watchFields } from './fields.js';
import { watchFiles } from './files.js';
import { watchKeys } from './keys.js';
import { watchLines } from './lines.js';
import { watchFailures } from './notices.js';
import { watchOrigins } from './origin.js';
import { watchFeedTries } from './outlets.js';
import { watchRequests } from './session.js';
import { watchShaping } from './shape/bench.js';
import { watchSheet } from './sheet.js';
import { watchWaiting } from './waiting.js';
import { watchMap } from './watershed.js';

window.htmx = htmx;

// Unlike for every other page that is open; the server knows a sheet and its tries by it.
const page = Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) => byte.toString(16).padStart(2, '0')).join('');

watchEarly();
watchRequests();
watchFailures();
watchWaiting(page);
watchSheet(page);
watchFiles();
watchFields();
watchLines();
watchChoices();
watchKeys();
watchShaping();
watchMap();
watchDocs();
watchOrigins();
watchFeedTries();
watchGrid();
