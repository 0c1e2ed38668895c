// Keeps the files whose tests are running, and the last test that was begun, in a file: read when a run hangs.
import { rmSync, writeFileSync } from 'node:fs';
import { relative } from 'node:path';

export default class Underway {
  modules = new Set();
  last = '';
  write() {
    const path = process.env.FORESHORE_UNDERWAY;
    if (!path) return;
    if (this.modules.size === 0) rmSync(path, { force: true });
    else writeFileSync(path, `${[...this.modules].join(', ')}; last begun: ${this.last}`);
  }
  onTestModuleStart(module) {
    this.modules.add(relative(process.cwd(), module.moduleId));
    this.write();
  }
  onTestModuleEnd(module) {
    this.modules.delete(relative(process.cwd(), module.moduleId));
    this.write();
  }
  onTestCaseReady(test) {
    this.last = test.fullName;
    this.write();
  }
}
