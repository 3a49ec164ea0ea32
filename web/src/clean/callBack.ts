/** Three short tones and a shake: the timer is over. Either may be refused by the browser, which is no error. */
export function callBack() {
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
