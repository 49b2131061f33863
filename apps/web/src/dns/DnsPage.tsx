export function DnsPage() { return null; }
