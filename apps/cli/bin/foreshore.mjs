#!/usr/bin/env node
import { pathToFileURL } from 'node:url';
import { program } from '../../../scripts/house.mjs';

await import(pathToFileURL(program('cli')).href);
