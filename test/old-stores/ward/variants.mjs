const file = 'ward.service.ts'
export default [
  { name: 'ward-1-not-tracked', file, mistake: 'a value is read outside of what follows it', replace: [['  readonly shown = computed(() => {\n    const kind = this.kind();', '  readonly shown = computed(() => {\n    const kind = untracked(this.kind);'], ["import { computed, inject, InjectionToken, signal }", "import { computed, inject, InjectionToken, signal, untracked }"]] },
  { name: 'ward-2-values-of-another', file, mistake: 'the values of the one before stay', replace: [['    this._selected.set(id);\n    this._values.set({});', '    this._selected.set(id);']] },
  { name: 'ward-3-late-values', file, mistake: 'late values are taken', replace: [['if (this.asked === own) this._values.set(values);', 'this._values.set(values);']] },
  { name: 'ward-4-in-place', file, mistake: 'a list is changed in place: nobody sees it', replace: [["this._patients.update((all) => [...all, {", "this._patients.update((all) => ((all as Patient[]).push({"], ['dose: 0 }]);', 'dose: 0 }), all));']] },
  { name: 'ward-5-asking-stays', file, mistake: 'a failure leaves the flag on', replace: [["      // the old values stay\n", '      return false;\n']] },
  { name: 'ward-6-selected-stays', file, mistake: 'who is gone is selected still', replace: [['    this._selected.set(null);\n', '']] },
]
