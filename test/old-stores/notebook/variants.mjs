export default [
  { name: 'notebook-1-pin-not-kept', mistake: 'a pin is not kept', replace: [['pinned: !n.pinned } : n));\n    this.save();', 'pinned: !n.pinned } : n));']] },
  { name: 'notebook-2-full-throws', mistake: 'a full storage throws', replace: [['  try {\n    localStorage.setItem(key, JSON.stringify({ version, fields }));\n  } catch {\n    /* full, or private */\n  }\n', '  localStorage.setItem(key, JSON.stringify({ version, fields }));\n']] },
  { name: 'notebook-3-old-form', mistake: 'the old form is taken as it is', replace: [["pinned: false }));\n    }", "}));\n    }"]] },
  { name: 'notebook-4-other-key', mistake: 'written under one key, read under another', replace: [["save('field-look', 1", "save('field-looks', 1"]] },
  { name: 'notebook-5-torn-json', mistake: 'a torn text throws when it is read', replace: [["  try {\n    return JSON.parse(localStorage.getItem(key) ?? 'null');\n  } catch {\n    return null;\n  }\n", "  return JSON.parse(localStorage.getItem(key) ?? 'null');\n"]] },
  { name: 'notebook-6-pinned-torn', mistake: 'what is pinned can be torn out', replace: [['if (!note || note.pinned) return false;', 'if (!note) return false;']] },
]
