/** Three short tones, a shake, and a notification where that was allowed: the timer is over. Each may be refused by the browser, which is no error. */
export function callBack() {
  if ("Notification" in window && Notification.permission === "granted" && document.hidden)
    new Notification("Come back: the timer is over");
  navigator.vibrate?.([300, 150, 300]);
  const audio = new AudioContext();
  for (const n of [0, 1, 2]) {
    const tone = audio.createOscillator();
    const volume = audio.createGain();
    volume.gain.value = 0.2;
    tone.frequency.value = 880;
    tone.connect(volume).connect(audio.destination);
    tone.start(audio.currentTime + 0.4 * n);
    tone.stop(audio.currentTime + 0.4 * n + 0.2);
  }
}

/** Asked when a timer is started, which is when it makes sense to a person. */
export function askToCallBack() {
  if ("Notification" in window && Notification.permission === "default") Notification.requestPermission();
}
