// before anything is painted: the scheme that this device was set to
try {
  const t = localStorage.getItem("yb.theme");
  if (t === "light" || t === "dark") document.documentElement.dataset.theme = t;
} catch {}
// what every page asks first is on its way while its code is read; a practice has a shop of its own
try {
  if (!sessionStorage.getItem("yb.practice")) {
    const asked = ["/api/words", "/api/shop", "/api/runs"];
    if (location.pathname === "/") asked.push("/api/plans?most=1", "/api/shop/unread");
    const headers = { "Device-Now": new Date().toISOString() };
    window.early = new Map(asked.map((path) => [path, fetch(path, { headers })]));
    for (const one of window.early.values()) one.catch(() => {});
  }
} catch {}
