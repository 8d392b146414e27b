@props(['set', 'change', 'how', 'what'])
<form method="post" action="{{ route('changes.settle', $set->table) }}">@csrf<input type="hidden" name="change" value="{{ $change->id }}"><input
    type="hidden" name="set" value="{{ $set->id }}"><input
    type="hidden" name="how" value="{{ $how }}"><button class="btn small">{{ $what }}</button></form>
