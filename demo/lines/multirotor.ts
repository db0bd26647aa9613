/** What is typed on the boards of the quads, line by line. */
const SEDGE_COMMON = [
  "starter sedge-7",
  "put mixer.frame quad-wide",
  "put board.turned 90",
  "put receiver.smoothing 30",
  "put return.height 40",
  "put fence.radius 1200",
  "put failsafe.does come-back",
  "row ports 3 use=position speed=57600",
  "row switches 1 does=arm channel=5 from=1700 to=2100",
  "row switches 2 does=level channel=6 from=1300 to=2100",
  "row switches 3 does=hold-place channel=7 from=1700 to=2100",
  "row switches 4 does=come-back channel=8 from=1700 to=2100",
  "use tune 2",
  'put tune.label "calm air"',
  "put roll.push 38",
  "put pitch.push 40",
  "use tune 1",
  'put tune.label "survey"',
  "put roll.memory 82",
  "put level.most 35",
  "use feel 1",
  "put yaw.turn-rate 2.79",
  "use battery 1",
  "put battery.cells 6",
  "put battery.low 34",
  "put battery.capacity 8000",
];
export const SEDGE_22 = SEDGE_COMMON;
export const SEDGE_23 = SEDGE_COMMON.map((line) =>
  line
    .replace("does=", "action=")
    .replace("yaw.turn-rate 2.79", "feel.yaw.rate 160")
    .replace("battery.low 34", "battery.cell.low 3.40"),
);

export const calibrated = (x: string, y: string, trim: string) => [
  `put gyro.zero.x ${x}`,
  `put gyro.zero.y ${y}`,
  `put level.zero.roll ${trim}`,
  "put power.scale 11.04",
];

export const WARBLER = [
  "starter warbler-3",
  "put motor.magnets 12",
  "put lights.count 2",
  "use tune 1",
  'put tune.label "close"',
  "use battery 1",
  "put battery.cells 3",
  "put battery.capacity 850",
];
