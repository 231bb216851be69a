import type { Caution, Danger } from '../api/client'

/** What to mind at a test. */
export const CAUTIONS: { [caution in Caution]: string } = {
  'may-crank':
    'It may crank. Blades off, neutral and brake set, wheels chocked; stay clear of belts and fan. Crank 5 s at most, then rest 60 s.',
  'power-off': 'Blades off, wheels chocked, key out of the switch. Ohms never on a live circuit.',
  'battery-off': 'Battery negative clamp off first, on last. With it off nothing can crank.',
  'might-move':
    'It should not crank here, and could move off if it does. Spark leads off and grounded, wheels chocked, area clear.',
  'engine-runs': 'The engine runs: keep clear of belts, fan and exhaust, and stay out of doors.',
  'blades-turn': 'The blades may turn: nobody near the deck, chute down.',
  'kill-lead-off':
    'The kill wire is off its module: the key cannot stop the engine. It must not be cranked.',
  'live-harness': 'The plug stays live on the harness side: keep the loose end off metal.',
}

/** Why the plan would not ask for something, and what to do about it. */
export const DANGERS: { [danger in Danger]: string } = {
  'lamp-on-kill-wire':
    'Never a lamp on a kill wire: from the battery it can destroy the ignition module. Take the meter.',
  'module-on-kill-wire':
    'The ignition module is still on this wire: you read the module with it, and it pulses to hundreds of volts if the engine turns. Take its plug off first.',
  'engine-turns': 'No ohms, buzzer or diode range while the engine turns: it can ruin the meter.',
  'live-circuit':
    'This is live, or is if one of the suspects is bad: ohms read nonsense there and can ruin the meter. Key off, or the battery negative clamp off, first.',
  'pulls-in':
    'The lamp’s current can pull in a relay or solenoid here, and crank. Take the voltmeter.',
  'cannot-be-stopped':
    'The kill wire is off and the starter could turn the engine: nothing would stop it. Battery negative clamp off, or spark leads off and grounded, first.',
}

/** Where the plan did not ask for a lamp: it may do more there than burn. */
export const LAMP_CAUTION =
  'A lamp grounds what it touches: behind an open interlock it can pull in a relay and crank. Never on a kill wire.'

/** Where nobody could say yet what a plug carries: it may be one that the kill wire runs through. */
export const PLUG_CAUTION =
  'With a plug off, the key may not stop the engine, and loose pins may be live. Do not crank if the kill wire runs through it.'
