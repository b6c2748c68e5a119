import * as Comlink from 'comlink';
import { filesWork } from './files.js';

Comlink.expose(filesWork);
