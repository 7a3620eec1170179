// One frame of a film that is shown on this page, as a JPEG of at most so many points a side.
window.film = {
  frame(video, most) {
    const scale = Math.min(1, most / Math.max(video.videoWidth, video.videoHeight));
    const canvas = document.createElement("canvas");
    canvas.width = Math.round(video.videoWidth * scale);
    canvas.height = Math.round(video.videoHeight * scale);
    canvas.getContext("2d").drawImage(video, 0, 0, canvas.width, canvas.height);
    return new Promise((done) => {
      canvas.toBlob((blob) => done({ blob, width: canvas.width, height: canvas.height }), "image/jpeg", 0.9);
    });
  },
};
