export default [
  { name: 'choir-1-back-to-open', mistake: 'taken back to open, whatever it was', replace: [['        set(name, was);\n', "        set(name, 'open');\n"]] },
  { name: 'choir-2-not-taken-back', mistake: 'not taken back', replace: [['        set(name, was);\n', '']] },
  { name: 'choir-3-pending-stays', mistake: 'nobody can answer again after a failure', replace: [['      }).finally(() => {\n        pending.delete(name);\n        emit();\n      });', '      }).then(() => { if (model.problem === null) pending.delete(name); emit(); });']] },
  { name: 'choir-4-twice-sent', mistake: 'a second answer is sent while the first is on its way', replace: [[' || pending.has(name)', '']] },
  { name: 'choir-5-snapshot', mistake: 'the whole list is taken back, with what others said since', replace: [['      const was = singer.comes;\n', '      const was = model.singers;\n'], ['        set(name, was);\n', '        model.singers = was;\n']] },
  { name: 'choir-6-not-ready', mistake: 'ready before anything is loaded', replace: [['ready: false, problem', 'ready: true, problem']] },
]
