// Brings a drawing up to date: only what differs is touched, for every new line and word has to be styled, laid out and painted again.
function renew(here, fresh) {
  if (here.isEqualNode(fresh)) return;
  if (here.nodeType !== Node.ELEMENT_NODE || here.nodeName !== fresh.nodeName || here.dataset.thing !== fresh.dataset.thing) {
    here.replaceWith(fresh);
    return;
  }
  renewAttributes(here, fresh);
  renewChildren(here, fresh);
}

function renewAttributes(here, fresh) {
  for (const { name } of [...here.attributes]) if (!fresh.hasAttribute(name)) here.removeAttribute(name);
  for (const { name, value } of fresh.attributes) if (here.getAttribute(name) !== value) here.setAttribute(name, value);
}

function renewChildren(here, fresh) {
  const old = [...here.childNodes], next = [...fresh.childNodes];
  const both = Math.min(old.length, next.length);
  for (let at = 0; at < both; at++) renew(old[at], next[at]);
  for (const gone of old.slice(both)) gone.remove();
  here.append(...next.slice(both));
}
