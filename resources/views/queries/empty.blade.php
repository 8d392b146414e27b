@foreach ($reasons as $sentence)<p class="note" role="note">{{ $sentence }}</p>@endforeach
