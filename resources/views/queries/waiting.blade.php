<div class="waiting" role="status" hx-post="{{ route('queries.run') }}" hx-trigger="load delay:400ms" hx-target="#result" hx-include="#asks"
    hx-vals="{{ json_encode(['sql' => $sql, 'ticket' => $waiting->ticket, 'cursor' => $cursor]) }}" data-quiet>
    <p><strong>Waits for its turn.</strong> {{ $waiting->sentence() }}</p>
    <p class="s mt-1">It runs by itself as soon as it can, as long as this page is open.</p>
</div>
