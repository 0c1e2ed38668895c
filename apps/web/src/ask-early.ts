import { askEarly } from './state/early.ts';

void askEarly(location.pathname);
