import * as Comlink from 'comlink';
import { checkWork } from './check.js';

Comlink.expose(checkWork);
