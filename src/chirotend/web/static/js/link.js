// Sending to the server: a stale token is renewed and the send repeated; a session that ended is said, never followed.
window.link = (() => {
  const meta = document.querySelector("meta[name=csrf-token]");
  let token = meta ? meta.content : "";
  // what is kept on a device is kept for its player: another one who signs in here never sends it
  const player = document.querySelector("meta[name=player]")?.content || "nobody";

  class SignedOut extends Error {}

  async function renew() {
    const answer = await fetch("/token", { headers: { "HX-Request": "true" } });
    if (answer.status === 401) throw new SignedOut();
    if (!answer.ok) return false;
    token = (await answer.json()).token;
    return true;
  }

  // Returns the answer; throws SignedOut when nobody is signed in here, and what fetch throws without a link.
  async function post(url, init) {
    const once = () => fetch(url, { ...init, method: "POST", redirect: "manual",
      headers: { ...init.headers, "X-CSRFToken": token, "HX-Request": "true" } });
    let answer = await once();
    if (answer.status === 400 && answer.headers.get("X-Stale-Token") && await renew()) answer = await once();
    if (answer.status === 401) throw new SignedOut();
    return answer;
  }

  function id() {
    return [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, "0")).join("");
  }

  return { post, id, player, SignedOut };
})();
