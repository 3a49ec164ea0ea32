let sound: AudioContext | undefined;

/** The loudest that a device is asked for; the first call is half of it. */
const loudest = 0.5;

/**
 * Three short tones, a shake, and a notification where that was allowed: the timer is over. Each may be refused by the browser,
 * which is no error. `again` counts the calls before this one: each is louder than the last.
 */
export function callBack(again = 0) {
  navigator.vibrate?.([300, 150, 300]);
  notify("Come back: the timer is over");
  ring(Math.min(loudest, 0.2 + 0.1 * again));
}

/** The tones alone, as loud as they are called with first. */
export function ring(volume = 0.2) {
  sound ??= new AudioContext();
  if (sound.state === "suspended") sound.resume().catch(() => {});
  for (const n of [0, 1, 2]) {
    const tone = sound.createOscillator();
    const gain = sound.createGain();
    gain.gain.value = volume;
    tone.frequency.value = 880;
    tone.connect(gain).connect(sound.destination);
    tone.start(sound.currentTime + 0.4 * n);
    tone.stop(sound.currentTime + 0.4 * n + 0.2);
  }
}

async function notify(text: string) {
  if (!("Notification" in window) || Notification.permission !== "granted" || !document.hidden) return;
  // Phones only show what their service worker shows; elsewhere there may be none.
  const worker = await navigator.serviceWorker?.getRegistration();
  if (worker) await worker.showNotification(text, { icon: "/mark.svg", tag: "timer" });
  else new Notification(text);
}

/** Asked when a timer is started: it makes sense then, and sound may only be made later by a page that was touched. */
export function askToCallBack() {
  if ("Notification" in window && Notification.permission === "default") Notification.requestPermission();
  sound ??= new AudioContext();
  if (sound.state === "suspended") sound.resume().catch(() => {});
}

/** What this device cannot do while a timer runs, in words; nothing where it can do all of it. */
export function cannot(): string[] {
  const all: string[] = [];
  if (!("wakeLock" in navigator)) all.push("keep its screen on");
  if (!("Notification" in window) || Notification.permission === "denied") all.push("call while another page is open");
  if (!("AudioContext" in window)) all.push("make a sound");
  return all;
}
