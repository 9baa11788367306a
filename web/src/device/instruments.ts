/** Wireless instruments: what gives a reading instead of a person reading it off. */
import { useMemo } from "react";
import type { Me } from "../types";

export interface Measurement {
  value: string; // a decimal, as the instrument shows it
  unit: string;
}

/** An instrument near the device. A real one is reached over the browser's Bluetooth; it has the same two things to tell. */
export interface Instrument {
  name: string;
  /** What it measures in. */
  units: string[];
  /** One measurement, in a unit. Rejects when the instrument does not answer. last is what was measured here before. */
  read(unit: string, last?: number): Promise<Measurement>;
}

/** How long the simulated gauge takes to settle, in milliseconds. */
const settles = 700;

/** A gauge that is not there: it takes its time, and shows a little more or less than the last time. */
export class SimulatedGauge implements Instrument {
  readonly name = "Demo gauge";
  readonly units = ["bar", "kPa", "psi", "A", "°C", "MΩ", "mm/s"];

  async read(unit: string, last = 4): Promise<Measurement> {
    await new Promise((done) => setTimeout(done, settles));
    // The same place and minute give the same value, so that a demo can be told twice.
    const wave = Math.sin(Math.floor(Date.now() / 60_000) + last);
    return { value: (last * (1 + wave / 50)).toFixed(2), unit };
  }
}

/** The instrument that measures in a unit, if there is one near. In the demo there is a simulated one. */
export function useInstrument(unit: string, me: Me): Instrument | undefined {
  return useMemo(() => {
    const near: Instrument[] = me.demo ? [new SimulatedGauge()] : [];
    return near.find((i) => i.units.includes(unit));
  }, [unit, me.demo]);
}
