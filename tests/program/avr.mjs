// Runs a compiled program instruction by instruction. One JSON request a line in, one JSON answer a line out.
//
//   {"load": hex}                               start anew
//   {"contacts": {"D4": 0}}                     levels from outside
//   {"volts": {"1": 2.5}}                       analogue inputs by channel
//   {"send": text}                              characters to the serial port, at its own pace
//   {"run": cycles, "edges": [[cycle, pin, level], …]}   run on, with input edges at cycles from now
// Every answer: {"cycle", "edges": [[cycle, pin, level], …], "text", "levels": {pin: level}}
import { createInterface } from "node:readline";
import { createRequire } from "node:module";

const avr = createRequire(new URL("../../web/package.json", import.meta.url))("avr8js");
const CLOCK = 16e6;
const PORTS = { B: avr.portBConfig, C: avr.portCConfig, D: avr.portDConfig };
const RECORDED = (process.argv[2] ?? "").split(",").filter(Boolean);

let cpu, ports, adc, usart, edges, text, sending, last;

function words(hex) {
  const bytes = new Uint8Array(0x8000);
  for (const line of hex.split("\n")) {
    if (line[0] !== ":" || line.slice(7, 9) !== "00") continue;
    const count = parseInt(line.slice(1, 3), 16);
    const address = parseInt(line.slice(3, 7), 16);
    for (let i = 0; i < count; i++) bytes[address + i] = parseInt(line.slice(9 + 2 * i, 11 + 2 * i), 16);
  }
  return new Uint16Array(bytes.buffer);
}

function level(pin) {
  const state = ports[pin[0]].pinState(Number(pin[1]));
  return state === avr.PinState.High ? 1 : 0;
}

function load(hex) {
  cpu = new avr.CPU(words(hex), 2048);
  ports = Object.fromEntries(Object.entries(PORTS).map(([name, config]) => [name, new avr.AVRIOPort(cpu, config)]));
  for (const config of [avr.timer0Config, avr.timer1Config, avr.timer2Config]) new avr.AVRTimer(cpu, config);
  new avr.AVRWatchdog(cpu, avr.watchdogConfig, new avr.AVRClock(cpu, CLOCK));
  adc = new avr.AVRADC(cpu, avr.adcConfig);
  usart = new avr.AVRUSART(cpu, avr.usart0Config, CLOCK);
  [edges, text, sending] = [[], "", []];
  last = Object.fromEntries(RECORDED.map((pin) => [pin, level(pin)]));
  usart.onByteTransmit = (value) => (text += String.fromCharCode(value));
  usart.onRxComplete = feed;
  for (const name of Object.keys(ports))
    ports[name].addListener(() => {
      for (const pin of RECORDED)
        if (pin[0] === name && level(pin) !== last[pin]) {
          last[pin] = level(pin);
          edges.push([cpu.cycles, pin, last[pin]]);
        }
    });
}

function feed() {
  if (sending.length && usart.writeByte(sending[0])) sending.shift();
}

function run(cycles, inputs) {
  // Held in locals: looked up through the module at each of some million instructions they take a third of the time.
  const [running, step, start] = [cpu, avr.avrInstruction, cpu.cycles];
  const end = start + cycles;
  for (const [at, pin, value] of [...inputs, [cycles]]) {
    const until = Math.min(start + at, end);
    while (running.cycles < until) {
      step(running);
      running.tick();
    }
    if (pin !== undefined) ports[pin[0]].setPin(Number(pin[1]), Boolean(value));
  }
}

for await (const line of createInterface({ input: process.stdin })) {
  const asked = JSON.parse(line);
  if (asked.load !== undefined) load(asked.load);
  for (const [pin, value] of Object.entries(asked.contacts ?? {})) ports[pin[0]].setPin(Number(pin[1]), Boolean(value));
  for (const [channel, volts] of Object.entries(asked.volts ?? {})) adc.channelValues[Number(channel)] = volts;
  if (asked.send !== undefined) {
    sending.push(...Buffer.from(asked.send, "ascii"));
    feed();
  }
  if (asked.run) run(asked.run, asked.edges ?? []);
  process.stdout.write(JSON.stringify({ cycle: cpu.cycles, edges, text, levels: last }) + "\n");
  [edges, text] = [[], ""];
}
