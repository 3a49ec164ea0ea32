let sound: AudioContext | undefined;

/** Three short tones, a shake, and a notification where that was allowed: the timer is over. Each may be refused by the browser, which is no error. */
export function callBack() {
  navigator.vibrate?.([300, 150, 300]);
  notify("Come back: the timer is over");
  sound ??= new AudioContext();
  for (const n of [0, 1, 2]) {
    const tone = sound.createOscillator();
    const volume = sound.createGain();
    volume.gain.value = 0.2;
    tone.frequency.value = 880;
    tone.connect(volume).connect(sound.destination);
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
